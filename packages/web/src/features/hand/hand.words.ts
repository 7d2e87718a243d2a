import type { HandEvents } from '@dystracer/core/hand/events'
import type { EventWords } from '#shared/lib/event-words'

export const handWords: EventWords<HandEvents> = {
  'taken-in-hand': ({ key }) => `took ${key} in hand`,
  parked: ({ key }) => `parked ${key}`,
  'put-down': ({ key }) => `put ${key} down`,
  'hand-time-booked': ({ key }) => `booked the time that ${key} was in hand`,
}
