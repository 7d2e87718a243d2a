import type { InboxEvents } from '@dystracer/core/inbox/events'
import type { EventWords } from '#shared/lib/event-words'

export const inboxWords: EventWords<InboxEvents> = {
  'person-notified': ({ personId }, nameOf) => `told ${nameOf(personId)}`,
  'notices-read': ({ noticeIds }) => `read ${noticeIds.length} notices`,
  'notices-mailed': ({ noticeIds }) => `mailed ${noticeIds.length} notices`,
  'notices-snoozed': ({ key, untilMs }) => (untilMs === null ? `brought ${key} back` : `put ${key} off`),
  'notice-way-chosen': ({ why, way }) => `chose to be told of “${why}” by ${way}`,
  'mail-sent': ({ to }) => `sent a mail to ${to}`,
  'mail-set-aside': ({ personId, why }, nameOf) => `set mail to ${nameOf(personId)} aside: ${why}`,
}
