import type { BisectingEvents } from '@dystracer/core/bisecting/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of searches make stale, beside the things that they are about. */
export const bisectingLive: Refreshes<BisectingEvents> = {
  'bisection-begun': { always: ['Build'] },
  'bisection-ended': { always: ['Build'] },
}
