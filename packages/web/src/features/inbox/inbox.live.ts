import type { InboxEvents } from '@dystracer/core/inbox/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of inbox make stale, beside the things that they are about. */
export const inboxLive: Refreshes<InboxEvents> = {
  'person-notified': { mine: ['Notice', 'Overview'] },
  'notices-read': { mine: ['Notice', 'Overview'] },
  'notices-mailed': { mine: ['Notice', 'Overview'] },
  'mail-set-aside': { mine: ['Notice', 'Overview'] },
  'notices-snoozed': { mine: ['Notice', 'Overview'] },
  'notice-way-chosen': { mine: ['Me'] },
  'mail-sent': {},
}
