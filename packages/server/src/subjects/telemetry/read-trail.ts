import { type PlacedStep, trailOf, type TrailStep } from '@dystracer/core/faults/trail'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { LIST_SERVICE_BESIDE, LIST_TRAIL_BY_TRACE } from './read-trail.queries.js'

/**
 * The spans, log records and errors of a trace in one line of time around an error of a service. A trace may lead through services of other
 * projects, whose people may be others: of those steps only their number is told.
 */
export function trailAround(
  ctx: Pick<ServiceContext, 'db' | 'volume'>,
  { service, traceId, atMs }: { service: string; traceId: string | null; atMs: number },
): { steps: PlacedStep[]; elsewhere: number } {
  if (traceId === null) return { steps: [], elsewhere: 0 }
  const all = sql(ctx.volume, LIST_TRAIL_BY_TRACE).all<TrailStep>({ traceId })
  const beside = new Set(
    sql(ctx.db, LIST_SERVICE_BESIDE)
      .all<{ name: string }>({ service })
      .map(({ name }) => name),
  ).add(service)
  const steps = all.filter((step) => beside.has(step.service))
  return { steps: trailOf(steps, atMs), elsewhere: all.length - steps.length }
}
