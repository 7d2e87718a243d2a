import type { IncidentsEvents } from '@dystracer/core/incidents/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of incidents make stale, beside the things that they are about. */
export const incidentsLive: Refreshes<IncidentsEvents> = {
  'incident-opened': { always: ['Incident', 'Overview'] },
  'incident-changed': { always: ['Incident'] },
  'incident-noted': { always: ['Incident'] },
  'incident-note-removed': { always: ['Incident'] },
  'incident-ended': { always: ['Incident', 'Overview'] },
  'incident-item-tied': { always: ['Incident'] },
}
