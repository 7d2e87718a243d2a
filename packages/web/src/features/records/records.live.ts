import type { RecordsEvents } from '@dystracer/core/records/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of records make stale, beside the things that they are about. */
export const recordsLive: Refreshes<RecordsEvents> = {
  'link-asserted': { item: ['Tie'] },
  'link-retracted': { item: ['Tie'] },
  'link-vetoed': {},
}
