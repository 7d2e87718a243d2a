/**
 * What happened around an error: the spans, log records and errors of its trace in one line of time. A span stands under the one that it
 * hangs from, a log record or an error under the span in which it was written; among those of one parent the earlier comes first.
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
 * The steps in the order in which they are read. A parent that was not kept, or that hangs from its own child (senders can be wrong),
 * counts as none, so that every step is there once. O(n log n).
 */
export function trailOf(steps: readonly TrailStep[], errorAtMs: number): PlacedStep[] {
  const spans = new Set(steps.filter(({ kind }) => kind === 'span').map(({ mark }) => mark))
  const under = new Map<string | null, TrailStep[]>()
  for (const step of steps) {
    const parent = step.parent !== null && spans.has(step.parent) && step.parent !== step.mark ? step.parent : null
    under.set(parent, [...(under.get(parent) ?? []), step])
  }
  for (const some of under.values()) some.sort(inTime)
  const placed: PlacedStep[] = []
  const seen = new Set<TrailStep>()
  const place = (step: TrailStep, depth: number) => {
    // By hand instead of by calls: a trace may hang as deep as it is long.
    const waiting: { step: TrailStep; depth: number }[] = [{ step, depth }]
    for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
      const at = next
      if (seen.has(at.step)) continue
      seen.add(at.step)
      placed.push({ ...at.step, depth: Math.min(at.depth, TRAIL_DEPTH_MAX), stand: standOf(at.step, errorAtMs) })
      if (at.step.kind !== 'span') continue
      for (const child of [...(under.get(at.step.mark) ?? [])].reverse()) waiting.push({ step: child, depth: at.depth + 1 })
    }
  }
  for (const root of under.get(null) ?? []) place(root, 0)
  // What only hangs in a circle has no root: the earliest of it begins.
  for (const step of [...steps].sort(inTime)) if (!seen.has(step)) place(step, 0)
  return placed
}

function standOf({ atMs, endMs }: TrailStep, errorAtMs: number): TrailStand {
  if (atMs > errorAtMs) return 'after'
  return endMs !== null && endMs >= errorAtMs ? 'during' : 'before'
}

function inTime(a: TrailStep, b: TrailStep): number {
  return a.atMs - b.atMs || (b.endMs ?? b.atMs) - (a.endMs ?? a.atMs) || (a.mark < b.mark ? -1 : a.mark > b.mark ? 1 : 0)
}
