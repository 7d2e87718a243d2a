import type { TalkEvents } from '@dystracer/core/talk/events'
import type { EventWords } from '#shared/lib/event-words'

export const talkWords: EventWords<TalkEvents> = {
  'comment-added': () => 'commented',
  'comment-edited': () => 'edited a comment',
  'comment-reacted': ({ reaction, isOn }) => (isOn ? `reacted: ${reaction}` : `took a reaction back: ${reaction}`),
  'attachment-added': ({ name }) => `added the file ${name}`,
  'picture-kept': ({ name }) => `kept the picture ${name}`,
  'attachment-removed': ({ name }) => `removed the file ${name}`,
  'time-booked': ({ minutes }) => `booked ${minutes} min`,
  'time-taken-back': ({ minutes }) => `took back a booking of ${minutes} min`,
}
