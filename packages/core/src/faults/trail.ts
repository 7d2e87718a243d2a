/**
 * What happened around an error: the spans, log records and errors of its trace in one line of time. A span stands in the one that it
 * hangs from, a log record or an error in the span in which it was written.
 */

/** One span, log record or error as it was kept. Times in milliseconds; `endMs` null where it takes none or nobody told. */
export interface TrailStep {
  mark: string
  kind: 'span' | 'log' | 'error'
  service: string
  parent: string | null
  atMs: number
  endMs: number | null
  severityNumber: number
  name: string
  detail: string
}

/** Where a step stands to the error: it had ended, it was under way, or it began later. */
export type TrailStand = 'before' | 'during' | 'after'

/** A step where it stands: in how many spans, and before or after the error. */
export interface PlacedStep extends TrailStep {
  /** How many spans it stands in. */
  depth: number
  stand: TrailStand
}

/** No trace is drawn deeper; what hangs deeper stands at the edge. */
export const TRAIL_DEPTH_MAX = 12

/**
 * The steps in the order of time, each as deep as the spans that it stands in; of one moment what stands further out comes first. A parent
 * that was not kept, or that hangs from its own child (senders can be wrong), counts as none. O(n log n).
 */
export function trailOf(steps: readonly TrailStep[], errorAtMs: number): PlacedStep[] {
  const spans = new Map(steps.filter(({ kind }) => kind === 'span').map((span) => [span.mark, span]))
  const depths = new Map<TrailStep, number>()
  /** By hand instead of by calls: a trace may hang as deep as it is long. */
  const depthOf = (step: TrailStep): number => {
    const way: TrailStep[] = []
    const onWay = new Set<TrailStep>()
    let at: TrailStep | undefined = step
    while (at && !depths.has(at) && !onWay.has(at)) {
      way.push(at)
      onWay.add(at)
      at = at.parent === null ? undefined : spans.get(at.parent)
    }
    // Where the way came back to itself, the last of it begins.
    let depth = (at && depths.get(at)) ?? -1
    for (const one of way.reverse()) depths.set(one, ++depth)
    return depth
  }
  return steps
    .map((step) => ({ ...step, depth: Math.min(depthOf(step), TRAIL_DEPTH_MAX), stand: standOf(step, errorAtMs) }))
    .sort(
      (a, b) =>
        a.atMs - b.atMs ||
        a.depth - b.depth ||
        (b.endMs ?? b.atMs) - (a.endMs ?? a.atMs) ||
        (a.mark < b.mark ? -1 : a.mark > b.mark ? 1 : 0),
    )
}

function standOf({ atMs, endMs }: TrailStep, errorAtMs: number): TrailStand {
  if (atMs > errorAtMs) return 'after'
  return endMs !== null && endMs >= errorAtMs ? 'during' : 'before'
}
