import type { PlacesEvents } from '@dystracer/core/places/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of places make stale, beside the things that they are about. */
export const placesLive: Refreshes<PlacesEvents> = {
  'place-gates-set': { always: ['Release'] },
  'deployment-agreed': { always: ['Release'] },
  'deployment-checked': { always: ['Release'] },
  'place-gates-passed-over': { always: ['Release'] },
}
