import type { PlacesEvents } from '@dystracer/core/places/events'
import type { EventWords } from '#shared/lib/event-words'
import { plural } from '#shared/lib/format'

export const placesWords: EventWords<PlacesEvents> = {
  'place-gates-set': ({ environment, gates }) =>
    gates.length === 0
      ? `nothing has to hold any more before a release comes to ${environment}`
      : `set ${plural(gates.length, 'gate')} before ${environment}`,
  'deployment-agreed': ({ isOn }) => (isOn ? 'agreed that it goes out' : 'took back that it goes out'),
  'deployment-checked': ({ words, isOn }) => (isOn ? `checked: ${words}` : `took a check back: ${words}`),
  'place-gates-passed-over': ({ why, unmet }) => `let it out past ${unmet.join('; ')}: ${why}`,
}
