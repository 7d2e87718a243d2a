import type { Unusual } from '@dystracer/core/faults/causes-wire'
import { comparableAttributes, unusualValues, ValueCounter } from '@dystracer/core/faults/unusual'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireFault } from './faults.views.js'
import { LIST_OTHER_OCCURRENCE, LIST_OWN_OCCURRENCE, LIST_TRAFFIC_VALUE } from './unusual.queries.js'

const HOUR_MS = 3_600_000
/** So many occurrences are looked at, of the fault and of the others. */
const OWN_MAX = 2000
const OTHERS_MAX = 4000
/** Further back traffic is not counted up. */
const SPAN_MAX_HOURS = 30 * 24

/**
 * What is unusual about a fault: values of attributes that its newest occurrences have more often than the
 * service's work of the same hours; where a service tells of no work, than its other faults. Throws
 * `not-found`.
 */
export function readUnusual(ctx: ServiceContext, fault: string): Unusual {
  const { row, group } = requireFault(ctx, fault)
  const { fingerprint, service } = row
  const own = new ValueCounter()
  const kept = sql(ctx.volume, LIST_OWN_OCCURRENCE).all<Kept>({ fingerprint, limit: OWN_MAX })
  for (const one of kept) count(own, one)
  const toHour = Math.floor(group.last_at_ms / HOUR_MS)
  const fromHour = Math.max(Math.floor(group.first_at_ms / HOUR_MS), toHour - SPAN_MAX_HOURS)
  const traffic = new ValueCounter()
  for (const { attribute, value, count: times } of sql(ctx.volume, LIST_TRAFFIC_VALUE).all<{
    attribute: string
    value: string
    count: number
  }>({
    service,
    attributes: JSON.stringify([...own.counts.keys()]),
    fromHour,
    toHour,
  }))
    traffic.add(attribute, value, times)
  if (traffic.counts.size > 0) return { looked: kept.length, against: 'traffic', rows: unusualValues(own.counts, traffic.counts) }
  const others = new ValueCounter()
  for (const one of sql(ctx.volume, LIST_OTHER_OCCURRENCE).all<Kept>({ fingerprint, service, limit: OTHERS_MAX })) count(others, one)
  return { looked: kept.length, against: 'other-faults', rows: unusualValues(own.counts, others.counts) }
}

interface Kept {
  attributes: string
  resource: string
}

function count(counter: ValueCounter, { attributes, resource }: Kept): void {
  const all = { ...(JSON.parse(resource) as Record<string, unknown>), ...(JSON.parse(attributes) as Record<string, unknown>) }
  for (const [name, value] of comparableAttributes(all)) counter.add(name, value)
}
