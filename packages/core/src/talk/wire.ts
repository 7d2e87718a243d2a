import { zPageQuery, zPage, zEmpty, zAtMs, zDay } from '#basics/wire'
import { zRealDay } from '#setup/own-field'
import { operation } from '#people/operation'
import { REACTIONS } from '#setup/field-use'
import { TIME_GROUPS } from './time-sums.js'
import { z } from 'zod'

/** Who reacted to something that was said, by reaction. */
export const zReactions = z.array(z.object({ reaction: z.string(), personIds: z.array(z.string()) }))
/** Who reacted to something that was said, by reaction. */
export type Reactions = z.infer<typeof zReactions>
/** A comment with its reactions and whether it was edited. */
export const zComment = z.object({
  commentId: z.string(),
  by: z.string().nullable(),
  /** The address that it came from, when no account wrote it. */
  from: z.string().nullable(),
  atMs: zAtMs,
  text: z.string(),
  replyTo: z.string().nullable(),
  editedAtMs: zAtMs.nullable(),
  reactions: zReactions,
})
export type Comment = z.infer<typeof zComment>
const commentText = z.string().trim().min(1, 'Nothing was written').max(50_000, 'At most 50,000 characters')
/** A comment, or a reply to one. */
export const zAddComment = z.strictObject({ text: commentText, replyTo: z.string().max(100).optional() })
/** The new text, and the text that the editor began from: a difference means that somebody else wrote meanwhile. */
export const zEditComment = z.strictObject({ text: commentText, before: z.string().max(50_000) })
/** Gives a reaction or takes it back. */
export const zReact = z.strictObject({ reaction: z.enum(REACTIONS), isOn: z.boolean() })
/** A former text of a comment. */
export const zCommentRevision = z.object({ text: z.string(), atMs: zAtMs })
/** What the trailers of a comment will do once it is sent. */
export const zDeedPreview = z.object({
  deeds: z.array(z.record(z.string(), z.unknown())),
  refused: z.array(z.object({ trailer: z.string(), code: z.string() })),
  mentions: z.array(z.object({ personId: z.string(), maySee: z.boolean() })),
})
/** One booking of time. */
export const zTimeEntry = z.object({
  entryId: z.string(),
  itemKey: z.string(),
  personId: z.string(),
  minutes: z.number().int(),
  on: zDay,
  provenance: z.string(),
  atMs: zAtMs,
})
export type TimeEntry = z.infer<typeof zTimeEntry>
/** How to sum booked time, and between which days (both included). */
export const zTimeQuery = z.object({ by: z.enum(TIME_GROUPS).default('person'), from: zDay.optional(), to: zDay.optional() })
/** Booked time by the asked group. */
export const zTimeSums = z.object({
  rows: z.array(z.object({ group: z.string(), minutes: z.number().int(), bookings: z.number().int() })),
  totalMinutes: z.number().int(),
})
export type TimeSums = z.infer<typeof zTimeSums>
/** A file at an item; type and size are those of its content. */
export const zAttachment = z.object({
  attachmentId: z.string(),
  name: z.string(),
  mediaType: z.string(),
  sizeBytes: z.number().int(),
  hasThumbnail: z.boolean(),
  by: z.string(),
  atMs: zAtMs,
})
export type Attachment = z.infer<typeof zAttachment>
/** Time to book on an item. */
export const zAddTime = z.strictObject({
  minutes: z
    .number()
    .int()
    .min(-10_000)
    .max(10_000)
    .refine((value) => value !== 0, 'Not zero'),
  on: zRealDay.optional(),
})

/** What can be asked of talk. */
export const talkOperations = {
  listComments: operation({
    method: 'get',
    path: '/items/:key/comments',
    summary: 'Comments, oldest first',
    may: 'project.read',
    about: 'item',
    query: zPageQuery,
    answer: zPage(zComment),
  }),
  addComment: operation({
    method: 'post',
    path: '/items/:key/comments',
    summary: 'Comment; trailers act',
    may: 'talk.write',
    about: 'item',
    body: zAddComment,
    answer: z.object({ commentId: z.string() }),
  }),
  previewComment: operation({
    method: 'post',
    path: '/items/:key/comments/preview',
    summary: 'What a comment would do',
    may: 'project.read',
    about: 'item',
    body: z.strictObject({ text: z.string().max(50_000) }),
    answer: zDeedPreview,
  }),
  editComment: operation({
    method: 'patch',
    path: '/items/:key/comments/:commentId',
    summary: 'Edit one’s own comment',
    may: 'talk.write',
    about: 'item',
    body: zEditComment,
    answer: zEmpty,
  }),
  listCommentRevisions: operation({
    method: 'get',
    path: '/items/:key/comments/:commentId/revisions',
    summary: 'Earlier texts of a comment',
    may: 'project.read',
    about: 'item',
    answer: z.object({ rows: z.array(zCommentRevision) }),
  }),
  reactToComment: operation({
    method: 'post',
    path: '/items/:key/comments/:commentId/reactions',
    summary: 'React to a comment, or take the reaction back',
    may: 'talk.write',
    about: 'item',
    body: zReact,
    answer: zEmpty,
  }),
  listAttachments: operation({
    method: 'get',
    path: '/items/:key/attachments',
    summary: 'Files of an item',
    may: 'project.read',
    about: 'item',
    answer: z.object({ rows: z.array(zAttachment) }),
  }),
  addAttachment: operation({
    method: 'post',
    path: '/items/:key/attachments',
    summary: 'Add a file: the body, with ?name=; at most 50 MB',
    may: 'talk.write',
    about: 'item',
    query: z.object({ name: z.string().min(1).max(500) }),
    bodyMedia: 'application/octet-stream',
    status: 201,
    answer: zAttachment,
  }),
  readAttachmentFile: operation({
    method: 'get',
    path: '/items/:key/attachments/:attachmentId/file',
    summary: 'The file; shown only when it is a picture',
    may: 'project.read',
    about: 'item',
    answer: z.string(),
    media: 'application/octet-stream',
  }),
  readAttachmentThumbnail: operation({
    method: 'get',
    path: '/items/:key/attachments/:attachmentId/thumbnail',
    summary: 'Its thumbnail',
    may: 'project.read',
    about: 'item',
    answer: z.string(),
    media: 'application/octet-stream',
  }),
  keepPicture: operation({
    method: 'post',
    path: '/projects/:project/pictures',
    summary: 'Keep a picture that a text of the project is to show, as it streams in; `path` is how the text names it',
    may: 'talk.write',
    about: 'project',
    query: z.object({ name: z.string().min(1).max(500) }),
    bodyMedia: 'application/octet-stream',
    status: 201,
    answer: z.object({ pictureId: z.string(), path: z.string(), name: z.string() }),
  }),
  readKeptPicture: operation({
    method: 'get',
    path: '/projects/:project/pictures/:pictureId',
    summary: 'A picture that a text of the project shows',
    may: 'project.read',
    about: 'project',
    media: 'application/octet-stream',
    answer: z.string(),
  }),
  removeAttachment: operation({
    method: 'delete',
    path: '/items/:key/attachments/:attachmentId',
    summary: 'Remove a file from an item',
    may: 'talk.write',
    about: 'item',
    answer: zEmpty,
  }),
  listTime: operation({
    method: 'get',
    path: '/items/:key/time',
    summary: 'Time spent',
    may: 'project.read',
    about: 'item',
    answer: zPage(zTimeEntry),
  }),
  bookTime: operation({
    method: 'post',
    path: '/items/:key/time',
    summary: 'Book time',
    may: 'time.book',
    about: 'item',
    body: zAddTime,
    answer: zPage(zTimeEntry),
  }),
  takeTimeBack: operation({
    method: 'delete',
    path: '/items/:key/time/*entryId',
    summary: 'Take a booking back',
    may: 'time.book',
    about: 'item',
    answer: zEmpty,
  }),
  readTimeSums: operation({
    method: 'get',
    path: '/time',
    summary: 'Sums of time by item, person, milestone or week',
    may: 'member-of-any',
    about: 'nothing',
    query: zTimeQuery,
    answer: zTimeSums,
  }),
  exportTime: operation({
    method: 'get',
    path: '/time.csv',
    summary: 'Bookings as CSV',
    may: 'member-of-any',
    about: 'nothing',
    query: zTimeQuery,
    answer: z.string(),
    media: 'text/csv',
  }),
}
