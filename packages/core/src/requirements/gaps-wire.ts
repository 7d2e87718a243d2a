import { zAtMs, zDay } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** What may be missing between a requirement and its proof. */
export const GAP_CODES = [
  'broken',
  'failing-test',
  'look-again',
  'without-item',
  'without-test',
  'item-without-requirement',
  'fix-not-released',
] as const
/** One of them. */
export type GapCode = (typeof GAP_CODES)[number]

const zGap = z.object({
  code: z.enum(GAP_CODES),
  /** A requirement or an item. */
  kind: z.enum(['requirement', 'item']),
  id: z.string(),
  title: z.string(),
  /** What makes it a gap: the item that breaks it, the tests that fail, how many ties were made for an older text. */
  by: z.array(z.string()),
  ownerId: z.string().nullable(),
  sinceMs: zAtMs.nullable(),
  /** People said that it may stay, why, and until when. */
  agreed: z.object({ reason: z.string(), until: zDay.nullable(), by: z.string().nullable() }).nullable(),
})
export type Gap = z.infer<typeof zGap>
/** What is missing in a project, the worst first; of each kind at most so many are listed. */
export const zGaps = z.object({
  rows: z.array(zGap),
  counts: z.array(z.object({ code: z.enum(GAP_CODES), open: z.number().int(), agreed: z.number().int() })),
  more: z.number().int(),
})
export type Gaps = z.infer<typeof zGaps>
const zGapOf = { code: z.enum(GAP_CODES), id: z.string().max(40) }
/** That a gap may stay, with the reason; until a day, or for good. */
export const zAgreeGap = z.strictObject({
  ...zGapOf,
  reason: z.string().trim().min(1, 'Say why').max(1000),
  until: zDay.nullable().default(null),
})
/** A gap that may stay no longer. */
export const zReopenGap = z.strictObject(zGapOf)

/** What can be asked of gaps. */
export const gapsOperations = {
  listGaps: operation({
    method: 'get',
    path: '/projects/:project/gaps',
    mayTakeLong: true,
    summary: 'What is missing between requirements, items and proofs, and what people agreed to leave so',
    may: 'project.read',
    about: 'project',
    answer: zGaps,
  }),
  agreeGap: operation({
    method: 'post',
    path: '/projects/:project/gaps/agreements',
    summary: 'Say that a gap may stay, why, and until when',
    may: 'requirements.write',
    about: 'project',
    body: zAgreeGap,
    answer: zGaps,
  }),
  reopenGap: operation({
    method: 'delete',
    path: '/projects/:project/gaps/agreements',
    summary: 'Take such an agreement back',
    may: 'requirements.write',
    about: 'project',
    query: zReopenGap,
    answer: zGaps,
  }),
}
