import type { TrainsEvents } from '@dystracer/core/trains/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of trains make stale, beside the things that they are about. */
export const trainsLive: Refreshes<TrainsEvents> = {
  'train-planned': { always: ['Release', 'Overview'] },
  'train-called-off': { always: ['Release', 'Overview'] },
  'train-ready': { always: ['Release', 'Overview'] },
  'train-held': { always: ['Release', 'Overview'] },
}
