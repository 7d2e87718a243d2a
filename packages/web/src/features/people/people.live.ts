import type { PeopleEvents } from '@dystracer/core/people/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of people make stale, beside the things that they are about. */
export const peopleLive: Refreshes<PeopleEvents> = {
  'person-added': {},
  'role-given': { mine: ['Me', 'Items', 'LongItems', 'Overview', 'Code', 'Release', 'Fault', 'Requirement'] },
  'role-taken': { mine: ['Me', 'Items', 'LongItems', 'Overview', 'Code', 'Release', 'Fault', 'Requirement'] },
  'account-closed': {},
  'address-claimed': { mine: ['Me'] },
  'address-confirmed': { mine: ['Me'], always: ['Code'] },
  'address-given-up': { mine: ['Me'], always: ['Code'] },
  'time-zone-chosen': { mine: ['Me', 'Items', 'LongItems'] },
  'person-renamed': {},
}
