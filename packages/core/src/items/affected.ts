/** Whether a defect is in a release where that runs: it is, it is not, it is fixed there, or nobody has tried. */
export const AFFECTED_STATES = ['affected', 'not', 'fixed', 'untried'] as const
/** One of those. */
export type AffectedState = (typeof AFFECTED_STATES)[number]
/** What a state rests on: faults that were seen, a test by hand, a person's word, the fix in it, or where the defect was found. */
export const AFFECTED_GROUNDS = ['seen', 'tested', 'said', 'fix', 'found-in'] as const
/** One of those. */
export type AffectedGround = (typeof AFFECTED_GROUNDS)[number]

/** All that is known of a defect in one release, where that runs in one environment. */
export interface AffectedFacts {
  /** Occurrences of its faults there; 0 for none. */
  seen: number
  /** What the newest test by hand there found; null where nobody did one. */
  tested: 'passed' | 'failed' | null
  /** What somebody said of it there; null for nothing. */
  said: 'affected' | 'not' | null
  hasFix: boolean
  isFoundIn: boolean
}

/**
 * How a defect stands in a release and environment. What was seen counts before what is said, what is said before what was tried, and that
 * before what the code says: evidence of the defect itself is not talked away (docs/rules.md#own-acts).
 */
export function affectedState({ seen, tested, said, hasFix, isFoundIn }: AffectedFacts): {
  state: AffectedState
  ground: AffectedGround | null
} {
  if (seen > 0) return { state: 'affected', ground: 'seen' }
  if (said !== null) return { state: said, ground: 'said' }
  if (tested === 'failed') return { state: 'affected', ground: 'tested' }
  if (hasFix) return { state: 'fixed', ground: 'fix' }
  if (tested === 'passed') return { state: 'not', ground: 'tested' }
  return isFoundIn ? { state: 'affected', ground: 'found-in' } : { state: 'untried', ground: null }
}
