import type { NodeRef } from '#basics/node-ref'

/** The seven stages, lowest first. */
export const STAGES = ['logged', 'accepted', 'underway', 'in-review', 'merged', 'released', 'verified'] as const
/** One tread of the ladder. */
export type Stage = (typeof STAGES)[number]

/** How high a stage stands: 0 for the lowest. The one order of stages; stored as `stage_rank` and compared by filters. */
export function stageRank(stage: Stage): number {
  return STAGES.indexOf(stage)
}

/** The ways in which an item ends without a fix. */
export const DISPOSITIONS = ['duplicate', 'works-as-required', 'cannot-reproduce', 'will-not-fix', 'deferred'] as const
/** How an item ended without a fix. */
export type Disposition = (typeof DISPOSITIONS)[number]

/**
 * What a tread shows. `proved`: evidence holds; `claimed`: someone says so without evidence; `partial`: some of the evidence is there;
 * `contradicted`: evidence speaks against it; `hole`: missing although a higher stage holds; `waiting`: not reached; `left-out`: the
 * project does without it.
 */
export const TREAD_STATES = ['proved', 'claimed', 'partial', 'contradicted', 'hole', 'waiting', 'left-out'] as const
/** How one tread stands; `TREAD_STATES` says what each word means. */
export type TreadState = (typeof TREAD_STATES)[number]

/** One fact behind a tread: a code with its parameters; the interface puts it into words. */
export interface Evidence {
  code: EvidenceCode
  /** Who or what it came from; null for facts without an author. */
  by: string | null
  atMs: number | null
  ref: NodeRef | null
  facts: Record<string, string | number | boolean | null>
}

/** What can speak for or against a tread; the interface has words for each. */
export const EVIDENCE_CODES = [
  'logged-by',
  'logged-by-rule',
  'accepted-by',
  'started-by',
  'branch',
  'commit',
  'pull-request',
  'review',
  'build-passed',
  'build-broke',
  'build-running',
  'repository-unaffected',
  'fix-on-main',
  'fix-not-on-main',
  'fix-reverted',
  'no-fix-yet',
  'runs-in',
  'not-yet-in',
  'release-contains',
  'silent',
  'still-judging',
  'cannot-be-judged',
  'came-back',
  'verified-by',
  'tests-pass',
  'waits-for',
  'claimed-by',
  'claim-accepted',
  'imported-as',
  'rolled-back',
  'parts-stand',
] as const
/** One kind of evidence. */
export type EvidenceCode = (typeof EVIDENCE_CODES)[number]

/** One stage of an item with its state and the evidence for it. */
export interface Tread {
  stage: Stage
  state: TreadState
  evidence: Evidence[]
}

/** A claim that the evidence does not bear out. */
export interface Drift {
  code: 'hole' | 'claim' | 'contradiction'
  stage: Stage
}

/** An item's treads, where it stands, and where claims and evidence part. */
export interface Ladder {
  /** The highest stage with evidence. */
  stage: Stage
  treads: Tread[]
  /** The fault was seen in a release that contains the fix: the item is open again. */
  hasComeBack: boolean
  disposition: Disposition | null
  drift: Drift[]
}

/**
 * The stair as text of seven letters, for rows and comparisons: p proved, c claimed, a partial, x contradicted, h hole, w waiting, o left
 * out.
 */
export function stairOf(ladder: Pick<Ladder, 'treads'>): string {
  return ladder.treads.map((tread) => LETTER_BY_STATE[tread.state]).join('')
}

const LETTER_BY_STATE: Record<TreadState, string> = {
  proved: 'p',
  claimed: 'c',
  partial: 'a',
  contradicted: 'x',
  hole: 'h',
  waiting: 'w',
  'left-out': 'o',
}

/** The states that a stair's letters stand for; an unknown letter reads as waiting. */
export function statesOfStair(stair: string): TreadState[] {
  return STAGES.map((_, index) => TREAD_STATES.find((state) => LETTER_BY_STATE[state] === stair[index]) ?? 'waiting')
}
