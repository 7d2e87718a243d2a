import type { HandEvents } from '@dystracer/core/hand/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of hand make stale, beside the things that they are about. */
export const handLive: Refreshes<HandEvents> = {
  'taken-in-hand': { mine: ['Hand'] },
  parked: { mine: ['Hand'] },
  'put-down': { mine: ['Hand'] },
  'hand-time-booked': { mine: ['Hand'] },
}
