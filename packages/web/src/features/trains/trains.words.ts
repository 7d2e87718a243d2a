import type { TrainsEvents } from '@dystracer/core/trains/events'
import type { EventWords } from '#shared/lib/event-words'
import { plural } from '#shared/lib/format'

export const trainsWords: EventWords<TrainsEvents> = {
  'train-planned': ({ name, cars }) => `planned the train ${name} of ${plural(cars.length, 'service')}`,
  'train-called-off': ({ isCalledOff, words }) =>
    isCalledOff ? `called a train off${words === '' ? '' : `: ${words}`}` : 'lets a train go after all',
  'train-ready': ({ name, items }) => `the train ${name} is ready: ${plural(items, 'item')} merged`,
  'train-held': ({ name, why }) => `the train ${name} is held: ${why}`,
}
