import type { RoutingEvents } from '@dystracer/core/routing/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of routing make stale, beside the things that they are about. */
export const routingLive: Refreshes<RoutingEvents> = {
  'routing-rule-set': {},
  'routing-rule-removed': {},
  'duty-set': {},
}
