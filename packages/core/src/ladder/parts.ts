import { type Evidence, type Ladder, type Stage, type Tread, STAGES, stageRank } from './ladder.js'

/** A sub-item as its parent's ladder sees it. */
export interface LadderPart {
  key: string
  stage: Stage
  isRejected: boolean
  hasComeBack: boolean
}

/**
 * The ladder of a parent (docs/rules.md#parents): it stands where its weakest open part stands and shows the spread. Parts that were
 * rejected do not count; settled ones count as Verified. What
 * the parent itself shows of work (a branch, a commit, a pull request) counts as one part more. A parent whose parts were all rejected, or
 * that has none, keeps its own ladder.
 * O(parts).
 */
export function standOnParts(own: Ladder, parts: readonly LadderPart[]): Ladder {
  const counting = parts.filter((part) => !part.isRejected)
  if (counting.length === 0) return own
  const ranks = counting.map((part) => stageRank(part.stage))
  const ownRank = stageRank(own.stage)
  if (ownRank >= stageRank('underway')) ranks.push(ownRank)
  const weakest = Math.min(...ranks)
  const treads = STAGES.map((stage, rank): Tread => {
    const reached = ranks.filter((other) => other >= rank).length
    const evidence: Evidence = { code: 'parts-stand', by: null, atMs: null, ref: null, facts: { reached, of: ranks.length } }
    const ownTread = own.treads[rank] as Tread
    // Logging is the parent's own, and so is a decision that it has had; the rest is what its parts show.
    if (rank === 0 || (stage === 'accepted' && ownTread.state === 'proved')) return ownTread
    if (reached === 0 && ownTread.state === 'claimed') return ownTread
    return { stage, state: reached === ranks.length ? 'proved' : reached > 0 ? 'partial' : 'waiting', evidence: [evidence] }
  })
  const drift = treads.filter((tread) => tread.state === 'claimed').map((tread) => ({ code: 'claim' as const, stage: tread.stage }))
  const hasComeBack = own.hasComeBack || counting.some((part) => part.hasComeBack)
  return { stage: STAGES[weakest] as Stage, treads, hasComeBack, disposition: own.disposition, drift }
}
