import type { IncomingEvents } from '@dystracer/core/incoming/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of what comes in make stale, beside the things that they are about. */
export const incomingLive: Refreshes<IncomingEvents> = {
  'hook-set': { always: ['Webhook'] },
  'hook-removed': { always: ['Webhook'] },
}
