import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

const zHeld = z.object({
  item: zItemSummary,
  branch: z.string().nullable(),
  /** When it was taken up the last time, or parked. */
  sinceMs: zAtMs,
  workedMs: z.number().int(),
  /** Time in hand that is not booked yet, in whole minutes: offered, never booked by itself. */
  offeredMinutes: z.number().int(),
})
/** The item that the asker works on now, and those laid aside. */
export const zHand = z.object({ current: zHeld.nullable(), parked: z.array(zHeld) })
export type Hand = z.infer<typeof zHand>
/** The item to work on, and the branch on which. */
export const zTakeInHand = z.strictObject({ key: z.string().max(20), branch: z.string().max(120).nullable().default(null) })
/** The time to book on what was in hand. */
export const zBookHand = z.strictObject({ minutes: z.number().int().min(1).max(100_000) })
/** A note that only its writer can read; it stands outside the journal. */
export const zPrivateNote = z.object({ text: z.string(), atMs: zAtMs.nullable() })
/** The new text of a private note; an empty one removes it. */
export const zWriteNote = z.strictObject({ text: z.string().max(20_000) })

/** What can be asked of hand. */
export const handOperations = {
  readHand: operation({
    method: 'get',
    path: '/me/hand',
    summary: 'What the asker has in hand',
    may: 'member-of-any',
    about: 'nothing',
    isOfNow: true,
    isPersonal: true,
    answer: zHand,
  }),
  takeInHand: operation({
    method: 'post',
    path: '/me/hand',
    summary: 'Take an item in hand; what was in hand is parked',
    may: 'items.change',
    about: 'nothing',
    isPersonal: true,
    body: zTakeInHand,
    answer: zHand,
  }),
  parkItem: operation({
    method: 'post',
    path: '/me/hand/:key/park',
    summary: 'Park it',
    may: 'items.change',
    about: 'item',
    isPersonal: true,
    answer: zHand,
  }),
  putDown: operation({
    method: 'delete',
    path: '/me/hand/:key',
    summary: 'Put it down',
    may: 'items.change',
    about: 'item',
    isPersonal: true,
    answer: zHand,
  }),
  bookHand: operation({
    method: 'post',
    path: '/me/hand/:key/time',
    summary: 'Book time that was in hand',
    may: 'time.book',
    about: 'item',
    isPersonal: true,
    body: zBookHand,
    answer: zHand,
  }),
  readNote: operation({
    method: 'get',
    path: '/items/:key/note',
    summary: 'The asker’s private note on an item',
    may: 'project.read',
    about: 'item',
    isOfNow: true,
    isPersonal: true,
    answer: zPrivateNote,
  }),
  writeNote: operation({
    method: 'put',
    path: '/items/:key/note',
    summary: 'Write the private note; an empty one is removed',
    may: 'project.read',
    about: 'item',
    isPersonal: true,
    body: zWriteNote,
    answer: zPrivateNote,
  }),
}
