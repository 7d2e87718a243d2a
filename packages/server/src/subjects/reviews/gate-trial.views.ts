import { DEFAULT_GATES, mergeGates, type GateCode } from '@dystracer/core/reviews/gates'
import type { MergeGates } from '@dystracer/core/reviews/events'
import type { GateTrial } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, type PullRequestRow } from '#subjects/code/index'
import { maySee } from '#subjects/records/index'
import { LIST_BROUGHT_IN_BY_COMMITS, LIST_MERGED_PULL_REQUEST } from './reviewing.queries.js'
import { factsOf } from './gates.views.js'

/** The gates that are tried, each alone, in the order in which they are told. */
const TRIED: readonly { code: GateCode; asks: Partial<MergeGates> }[] = [
  { code: 'build', asks: {} },
  { code: 'agreements', asks: { agreements: 1 } },
  { code: 'agreements', asks: { agreements: 2 } },
  { code: 'owners', asks: { needsOwners: true } },
  { code: 'settled', asks: { needsSettled: true } },
  { code: 'item', asks: { needsItem: true } },
  { code: 'requirement', asks: { needsRequirement: true } },
  { code: 'suspects', asks: { needsNoSuspects: true } },
  { code: 'time', asks: { needsTime: true } },
  { code: 'findings', asks: { noNewFindings: true } },
  { code: 'quality', asks: { quality: '0 new bugs' } },
  { code: 'coverage', asks: { coverageAtLeast: 50 } },
  { code: 'coverage', asks: { coverageAtLeast: 80 } },
]
/** All of them at once, so that what they look at is read once for each change. */
const ALL_TRIED: MergeGates = Object.assign({ ...DEFAULT_GATES }, ...TRIED.map(({ asks }) => asks))

/**
 * What each gate by itself would have stopped among the newest 60 merges of a repository, and which of those a defect was later found to
 * come from (a tie "brought in by" one of their commits, to an item that the asker may see). Judged by what is known now: an agreement that
 * was given counts, also where it fell afterwards by nothing but the merge.
 */
export async function tryMergeGates(ctx: ServiceContext, who: Who, repository: string): Promise<GateTrial> {
  const merged = sql(ctx.db, LIST_MERGED_PULL_REQUEST).all<PullRequestRow>({ repository })
  const harmful = merged.filter((row) => broughtInDefects(ctx, who, row)).map(({ number }) => number)
  const known: { number: number; facts: Awaited<ReturnType<typeof factsOf>> }[] = []
  for (const row of merged) {
    // As it stood before the merge: still open.
    const facts = await factsOf(ctx, who, { ...row, state: 'open', is_draft: 0 }, ALL_TRIED)
    known.push({ number: row.number, facts })
  }
  const rows = TRIED.map(({ code, asks }) => {
    const gates = { ...DEFAULT_GATES, ...asks }
    const isStopped = ({ facts }: (typeof known)[number]) =>
      mergeGates({ ...facts, gates, fileTrouble: null }).some((gate) => gate.code === code && !gate.isMet)
    const stopped = known.filter(isStopped).map(({ number }) => number)
    return {
      code,
      needs: code === 'coverage' ? (gates.coverageAtLeast ?? 0) : gates.agreements,
      stopped,
      harmful: stopped.filter((number) => harmful.includes(number)),
    }
  })
  return { merges: merged.length, rows, harmful }
}

function broughtInDefects(ctx: ServiceContext, who: Who, row: PullRequestRow): boolean {
  const shas = [...commitsOfPullRequest(ctx, row), ...(row.merge_sha === null ? [] : [row.merge_sha])]
  return sql(ctx.db, LIST_BROUGHT_IN_BY_COMMITS)
    .all<{ key: string }>({ ids: JSON.stringify(shas.map((sha) => `${row.repository}/${sha}`)) })
    .some(({ key }) => maySee(ctx.db, who, key))
}
