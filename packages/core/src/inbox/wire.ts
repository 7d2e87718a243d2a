import { zPage, zEmpty, zAtMs, zPageQuery } from '#basics/wire'
import { operation } from '#people/operation'
import { NOTICE_WHYS, NOTICE_WAYS } from './notice.js'
import { z } from 'zod'

/** One thing told to the asker. */
export const zNotice = z.object({
  noticeId: z.string(),
  why: z.enum(NOTICE_WHYS),
  by: z.string(),
  words: z.string(),
  atMs: zAtMs,
  isRead: z.boolean(),
})
export type Notice = z.infer<typeof zNotice>
/** The three piles of an inbox. */
export const INBOX_VIEWS = ['unread', 'all', 'later'] as const
/** Which pile of the inbox. */
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
/** Marks notices as read or unread, some by id or all of an item. */
export const zReadNotices = z.strictObject({
  noticeIds: z.array(z.string().max(100)).max(500).default([]),
  keys: z.array(z.string().max(20)).max(500).default([]),
})
/** Lays an item's notices aside until a moment; `null` brings them back. */
export const zSnooze = z.strictObject({ key: z.string().max(20), untilMs: zAtMs.nullable() })
/** For each reason the way that the asker chose. */
export const zNoticeChoices = z.record(z.enum(NOTICE_WHYS), z.enum(NOTICE_WAYS))
export type NoticeChoices = z.infer<typeof zNoticeChoices>
/** Chooses the way for one reason. */
export const zChooseWay = z.strictObject({ why: z.enum(NOTICE_WHYS), way: z.enum(NOTICE_WAYS) })

/** What can be asked of inbox. */
export const inboxOperations = {
  listInbox: operation({
    method: 'get',
    path: '/inbox',
    summary: 'What the asker was told, gathered by item',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    query: zInboxQuery,
    answer: zPage(zNoticeGroup),
  }),
  markRead: operation({
    method: 'post',
    path: '/inbox/read',
    summary: 'Mark as read, by notice or all of an item',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    body: zReadNotices,
    answer: zEmpty,
  }),
  snooze: operation({
    method: 'post',
    path: '/inbox/snooze',
    summary: 'Put an item’s news off until a time, or bring it back',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    body: zSnooze,
    answer: zEmpty,
  }),
  readNoticeChoices: operation({
    method: 'get',
    path: '/me/notice-choices',
    summary: 'By which way the asker is told what',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zNoticeChoices,
  }),
  chooseNoticeWay: operation({
    method: 'put',
    path: '/me/notice-choices',
    summary: 'Choose the way for one kind of news',
    may: 'member-of-any',
    about: 'nothing',
    isPersonal: true,
    body: zChooseWay,
    answer: zNoticeChoices,
  }),
  listMailRefusals: operation({
    method: 'get',
    path: '/projects/:project/mail-refusals',
    summary: 'Members whose mail the mail server does not take',
    may: 'people.invite',
    about: 'project',
    isOfNow: true,
    answer: z.object({ rows: z.array(z.object({ personId: z.string(), why: z.string(), atMs: zAtMs })) }),
  }),
}
