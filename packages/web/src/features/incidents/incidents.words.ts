import type { IncidentsEvents } from '@dystracer/core/incidents/events'
import type { IncidentFacts, ItemRole } from '@dystracer/core/incidents/wire'
import type { EventWords } from '#shared/lib/event-words'

/** What an item is to an incident. */
export const ROLE_WORDS: Record<ItemRole, string> = {
  report: 'reported as',
  cause: 'caused by',
  'follow-up': 'to be done after it',
}
const FACT_WORDS: Record<keyof IncidentFacts, string> = {
  title: 'its title',
  severity: 'how bad it is',
  service: 'its service',
  environment: 'its environment',
  startedAtMs: 'when it began',
  leadId: 'who leads',
  cause: 'its cause',
}

export const incidentsWords: EventWords<IncidentsEvents> = {
  'incident-opened': ({ number, title }) => `opened incident ${number}: ${title}`,
  'incident-changed': ({ number, changes }) =>
    `changed ${Object.keys(changes)
      .map((name) => FACT_WORDS[name as keyof IncidentFacts])
      .join(', ')} of incident ${number}`,
  'incident-noted': ({ number, text }) => `noted at incident ${number}: ${text}`,
  'incident-note-removed': ({ number }) => `took a note back at incident ${number}`,
  'incident-ended': ({ number, overAtMs }) => (overAtMs === null ? `said that incident ${number} goes on` : `ended incident ${number}`),
  'incident-item-tied': ({ number, key, role }) =>
    role === null ? `took ${key} from incident ${number}` : `said that incident ${number} is ${ROLE_WORDS[role]} ${key}`,
}
