/** So long before an incident began what changed is looked at. */
const BEFORE_MS = 24 * 3_600_000

/** The time that belongs to an incident: `fromMs` is a day before it began, `toMs` when it was over, else now. */
export interface IncidentWindow {
  fromMs: number
  startedAtMs: number
  toMs: number
}

/** The window of an incident; one that was over before it began ends where it began. */
export function windowOf({ startedAtMs, overAtMs }: { startedAtMs: number; overAtMs: number | null }, nowMs: number): IncidentWindow {
  return { fromMs: startedAtMs - BEFORE_MS, startedAtMs, toMs: Math.max(startedAtMs, overAtMs ?? nowMs) }
}

/** A release that began to run somewhere. */
export interface Running {
  service: string
  release: string
  atMs: number
}

/**
 * What ran at some moment between two: of each service the release that ran at the beginning, and those that came until the end, each with
 * when it came and went (null: it runs on at the end). In the order in which they came. O(n log n).
 */
export function releasesDuring(runs: readonly Running[], { startedAtMs, toMs }: IncidentWindow) {
  const ordered = runs.filter((run) => run.atMs <= toMs).toSorted((a, b) => a.atMs - b.atMs)
  return ordered.flatMap((run, at) => {
    const next = ordered.slice(at + 1).find((other) => other.service === run.service)
    if (next && next.atMs <= startedAtMs) return []
    return [{ release: `${run.service}@${run.release}`, fromMs: run.atMs, toMs: next?.atMs ?? null }]
  })
}
