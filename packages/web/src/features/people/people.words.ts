import type { PeopleEvents } from '@dystracer/core/people/events'
import type { EventWords } from '#shared/lib/event-words'

export const peopleWords: EventWords<PeopleEvents> = {
  'person-added': ({ name }) => `wrote down ${name}`,
  'role-given': ({ personId, role, project }, nameOf) => `made ${nameOf(personId)} ${role} of ${project}`,
}
