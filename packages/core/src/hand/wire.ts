import { z } from 'zod'
import { zAtMs } from '#basics/wire'
import { zItemSummary } from '#records/wire'

const zHeld = z.object({
  item: zItemSummary,
  branch: z.string().nullable(),
  /** When it was taken up the last time, or parked. */
  sinceMs: zAtMs,
  workedMs: z.number().int(),
  /** Time in hand that is not booked yet, in whole minutes: offered, never booked by itself. */
  offeredMinutes: z.number().int(),
})
export const zHand = z.object({ current: zHeld.nullable(), parked: z.array(zHeld) })
export type Hand = z.infer<typeof zHand>
export const zTakeInHand = z.strictObject({ key: z.string().max(20), branch: z.string().max(120).nullable().default(null) })
export const zBookHand = z.strictObject({ minutes: z.number().int().min(1).max(100_000) })
export const zPrivateNote = z.object({ text: z.string(), atMs: zAtMs.nullable() })
export const zWriteNote = z.strictObject({ text: z.string().max(20_000) })
