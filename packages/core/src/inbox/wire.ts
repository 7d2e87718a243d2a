import { z } from 'zod'
import { zAtMs, zPageQuery } from '#basics/wire'
import { NOTICE_WHYS, NOTICE_WAYS } from './notice.js'

export const zNotice = z.object({
  noticeId: z.string(),
  why: z.enum(NOTICE_WHYS),
  by: z.string(),
  words: z.string(),
  atMs: zAtMs,
  isRead: z.boolean(),
})
export type Notice = z.infer<typeof zNotice>
export const INBOX_VIEWS = ['unread', 'all', 'later'] as const
export const zInboxQuery = zPageQuery.extend({ view: z.enum(INBOX_VIEWS).default('unread') })
/** What a person was told about one item, newest first. */
export const zNoticeGroup = z.object({
  itemKey: z.string(),
  title: z.string(),
  stair: z.string().nullable(),
  unread: z.number().int(),
  newestAtMs: zAtMs,
  snoozedUntilMs: zAtMs.nullable(),
  notices: z.array(zNotice),
})
export type NoticeGroup = z.infer<typeof zNoticeGroup>
export const zReadNotices = z.strictObject({
  noticeIds: z.array(z.string().max(100)).max(500).default([]),
  keys: z.array(z.string().max(20)).max(500).default([]),
})
export const zSnooze = z.strictObject({ key: z.string().max(20), untilMs: zAtMs.nullable() })
export const zNoticeChoices = z.record(z.enum(NOTICE_WHYS), z.enum(NOTICE_WAYS))
export type NoticeChoices = z.infer<typeof zNoticeChoices>
export const zChooseWay = z.strictObject({ why: z.enum(NOTICE_WHYS), way: z.enum(NOTICE_WAYS) })
