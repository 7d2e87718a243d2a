/** What is needed to judge whether a fault stays silent because it is mended. */
export interface SilenceInput {
  nowMs: number
  /** When a release with the fix began to run in production; null when none does. */
  fixedSinceMs: number | null
  lastSeenInFixedRelease: { release: string; environment: string; atMs: number } | null
  /** How long it must stay silent. */
  neededMs: number
  /** Requests (spans, log records) that the service handled since then, in that release. */
  exercisedSince: number
  /** How many requests it took for one occurrence before, by the counts of the releases without the fix; null when never counted. */
  requestsPerOccurrence: number | null
}

/** What a fault's silence in production means by now. */
export type SilenceVerdict = 'silent' | 'judging' | 'cannot-judge' | 'seen-again'

/** So many occurrences should have happened in the silent time, had nothing changed (docs/rules.md#silence). */
const EXPECTED_OCCURRENCES_MIN = 3

/**
 * Whether silence proves the fix (docs/rules.md#silence). It counts only while a release with the fix runs and was exercised at least as
 * much as used to
 * yield three occurrences: with a Poisson rate unchanged, silence would then have probability e^-3, under 5 %. No traffic at all: it cannot
 * be judged.
 */
export function judgeSilence(input: SilenceInput): SilenceVerdict {
  if (input.lastSeenInFixedRelease) return 'seen-again'
  if (input.fixedSinceMs === null) return 'judging'
  if (input.nowMs - input.fixedSinceMs < input.neededMs) return 'judging'
  if (input.exercisedSince <= 0) return 'cannot-judge'
  const neededRequests = EXPECTED_OCCURRENCES_MIN * Math.max(1, input.requestsPerOccurrence ?? 1)
  return input.exercisedSince >= neededRequests ? 'silent' : 'judging'
}
