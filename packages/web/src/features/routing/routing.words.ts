import type { RoutingEvents } from '@dystracer/core/routing/events'
import type { EventWords } from '#shared/lib/event-words'

export const routingWords: EventWords<RoutingEvents> = {
  'routing-rule-set': ({ name }) => `set the routing rule “${name}”`,
  'routing-rule-removed': () => 'removed a routing rule',
  'duty-set': ({ weekOn, personId }, nameOf) => `put ${nameOf(personId)} on duty in the week of ${weekOn}`,
}
