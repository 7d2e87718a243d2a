/** What one build said of one test; `flaky` for failed and passed on the same commit (docs/rules.md#results). */
export interface TestRun {
  build: number
  outcome: 'passed' | 'failed' | 'skipped' | 'flaky'
}
/** So many builds in a row make a failure one that does not go away by itself. */
export const FAILING_RUNS_MIN = 2

/**
 * Since which build a test fails without a pass in between, and in how many builds; null while that is fewer than `atLeast`.
 * Skipped and flaky runs are neither proof nor contradiction: they are passed over. Runs in any order. O(n log n).
 */
export function failingSince(runs: readonly TestRun[], { atLeast = FAILING_RUNS_MIN } = {}): { build: number; runs: number } | null {
  const newestFirst = [...runs].sort((a, b) => b.build - a.build)
  const passedAt = newestFirst.findIndex((run) => run.outcome === 'passed')
  const failed = newestFirst.slice(0, passedAt < 0 ? undefined : passedAt).filter((run) => run.outcome === 'failed')
  const first = failed.at(-1)
  return first && failed.length >= atLeast ? { build: first.build, runs: failed.length } : null
}
