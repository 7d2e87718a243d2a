import type { NoticeWhy, NoticeWay } from './notice.js'

/** The journal's events of inbox and their bodies. */
export interface InboxEvents {
  'person-notified': { noticeId: string; personId: string; key: string; why: NoticeWhy; words: string; way?: NoticeWay }
  'notices-read': { personId: string; noticeIds: string[] }
  'notices-mailed': { personId: string; noticeIds: string[]; messageId: string | null }
  /** Their mail is not taken: what they were to hear by it stands on screen instead. */
  'mail-set-aside': { personId: string; key: string; noticeIds: string[]; why: string }
  'notices-snoozed': { personId: string; key: string; untilMs: number | null }
  'notice-way-chosen': { personId: string; why: NoticeWhy; way: NoticeWay }
  'mail-sent': { to: string; subject: string }
}
