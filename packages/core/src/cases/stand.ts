import type { Outcome } from './wire.js'

/** A result as far as it says how a case stands. */
export interface GivenResult {
  number: number
  environment: string
  outcome: Outcome
  /** The revision of the case that was done. */
  revision: number
  atMs: number
}
/** How far a plan is, counted by case and environment. */
export interface PlanProgress {
  passed: number
  failed: number
  blocked: number
  skipped: number
  open: number
}

/** The newest result of each case in each environment, by `number environment`; of two at one moment the later in the list. O(n). */
export function latestResults<Result extends GivenResult>(results: readonly Result[]): Map<string, Result> {
  const latest = new Map<string, Result>()
  for (const result of results) {
    const key = placeOf(result)
    const known = latest.get(key)
    if (!known || known.atMs <= result.atMs) latest.set(key, result)
  }
  return latest
}

/** Names a case in an environment. */
export function placeOf({ number, environment }: { number: number; environment: string }): string {
  return `${number} ${environment}`
}

/**
 * How far a plan is: the newest result of each of its cases in each of its environments counts. One of an
 * earlier text of the case is stale: that place is open again. What is not in the plan does not count.
 */
export function progressOf(input: {
  cases: readonly { number: number; revision: number }[]
  environments: readonly string[]
  results: readonly GivenResult[]
}): PlanProgress {
  const latest = latestResults(input.results)
  const progress: PlanProgress = { passed: 0, failed: 0, blocked: 0, skipped: 0, open: 0 }
  for (const { number, revision } of input.cases)
    for (const environment of input.environments) {
      const result = latest.get(placeOf({ number, environment }))
      if (!result || result.revision < revision) progress.open++
      else progress[result.outcome]++
    }
  return progress
}
