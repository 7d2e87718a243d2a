import type { PeopleEvents } from '@dystracer/core/people/events'
import type { EventWords } from '#shared/lib/event-words'

export const peopleWords: EventWords<PeopleEvents> = {
  'person-added': ({ name }) => `wrote down ${name}`,
  'role-given': ({ personId, role, project }, nameOf) => `made ${nameOf(personId)} ${role} of ${project}`,
  'role-taken': ({ personId, project }, nameOf) => `took ${nameOf(personId)} out of ${project}`,
  'account-closed': ({ personId }, nameOf) => `closed the account of ${nameOf(personId)}`,
  'address-claimed': ({ email }) => `said that ${email} is theirs`,
  'address-confirmed': ({ personId, email }, nameOf) => `confirmed ${email} as an address of ${nameOf(personId)}`,
  'address-given-up': ({ email }) => `gave ${email} up`,
  'time-zone-chosen': ({ timeZone }) => `reckons days by ${timeZone ?? 'UTC'}`,
  'person-renamed': ({ from, to }) => `is called ${to} from now on, not ${from}`,
}
