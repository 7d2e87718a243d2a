import { z } from 'zod'
import { zAtMs, zDay } from '#basics/wire'
import { zRealDay } from '#items/wire'
import { REACTIONS } from '#setup/field-use'
import { TIME_GROUPS } from './time-sums.js'

export const zComment = z.object({
  commentId: z.string(),
  by: z.string().nullable(),
  /** The address that it came from, when no account wrote it. */
  from: z.string().nullable(),
  atMs: zAtMs,
  text: z.string(),
  replyTo: z.string().nullable(),
  editedAtMs: zAtMs.nullable(),
  reactions: z.array(z.object({ reaction: z.string(), personIds: z.array(z.string()) })),
})
export type Comment = z.infer<typeof zComment>
const commentText = z.string().trim().min(1, 'Nothing was written').max(50_000, 'At most 50,000 characters')
export const zAddComment = z.strictObject({ text: commentText, replyTo: z.string().max(100).optional() })
export const zEditComment = z.strictObject({ text: commentText, before: z.string().max(50_000) })
export const zReact = z.strictObject({ reaction: z.enum(REACTIONS), isOn: z.boolean() })
export const zCommentRevision = z.object({ text: z.string(), atMs: zAtMs })
export const zDeedPreview = z.object({
  deeds: z.array(z.record(z.string(), z.unknown())),
  refused: z.array(z.object({ trailer: z.string(), code: z.string() })),
  mentions: z.array(z.object({ personId: z.string(), maySee: z.boolean() })),
})
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
export const zTimeQuery = z.object({ by: z.enum(TIME_GROUPS).default('person'), from: zDay.optional(), to: zDay.optional() })
export const zTimeSums = z.object({
  rows: z.array(z.object({ group: z.string(), minutes: z.number().int(), bookings: z.number().int() })),
  totalMinutes: z.number().int(),
})
export type TimeSums = z.infer<typeof zTimeSums>
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
export const zAddTime = z.strictObject({
  minutes: z
    .number()
    .int()
    .min(-10_000)
    .max(10_000)
    .refine((value) => value !== 0, 'Not zero'),
  on: zRealDay.optional(),
})
