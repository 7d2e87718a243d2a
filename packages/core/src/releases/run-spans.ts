/** A deployment as far as it says when a release began to run. */
export interface RunStart {
  deploymentId: string
  release: string
  runningAtMs: number
}
/** How long a release ran in an environment. */
export interface RunSpan {
  deploymentId: string
  release: string
  fromMs: number
  /** Null: it runs now. */
  toMs: number | null
  /** A release that is older than the one before took its place: that one was taken back. */
  isTakenBack: boolean
}

/**
 * What ran when in one environment, the oldest first: each release until the next one began, in whatever
 * order they were reported. `isOlder` says whether the first release is older than the second. The same
 * release deployed again goes on. O(n log n).
 */
export function runSpans(starts: readonly RunStart[], isOlder: (release: string, than: string) => boolean): RunSpan[] {
  const inOrder = [...starts].sort((a, b) => a.runningAtMs - b.runningAtMs || (a.deploymentId < b.deploymentId ? -1 : 1))
  const spans: RunSpan[] = []
  for (const { deploymentId, release, runningAtMs } of inOrder) {
    const before = spans.at(-1)
    if (before?.release === release) continue
    if (before) {
      before.toMs = runningAtMs
      before.isTakenBack = isOlder(release, before.release)
    }
    spans.push({ deploymentId, release, fromMs: runningAtMs, toMs: null, isTakenBack: false })
  }
  return spans
}
