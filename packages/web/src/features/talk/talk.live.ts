import type { TalkEvents } from '@dystracer/core/talk/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of talk make stale, beside the things that they are about. */
export const talkLive: Refreshes<TalkEvents> = {
  'comment-added': {},
  'comment-edited': {},
  'comment-reacted': {},
  'attachment-added': {},
  'picture-kept': {},
  'attachment-removed': {},
  'time-booked': {},
  'time-taken-back': {},
}
