import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { MERGE_METHODS } from '#reviews/events'
import { zMergeGate } from '#reviews/wire'
import { z } from 'zod'

/** A change that somebody wants merged once all holds, as it stands in the row of its base. */
export const zMergeWaiting = z.object({
  repository: z.string(),
  number: z.number().int(),
  title: z.string(),
  author: z.string(),
  base: z.string(),
  by: z.string(),
  method: z.enum(MERGE_METHODS),
  /** Since when it waits. */
  atMs: zAtMs,
  /** What does not hold yet; the row itself left out. */
  unmet: z.array(zMergeGate),
  /** How it does merged with those before it; null while it was not tried. */
  trial: z.object({ ahead: z.array(z.number().int()), build: z.string().nullable(), state: z.string().nullable() }).nullable(),
})
export type MergeWaiting = z.infer<typeof zMergeWaiting>

/** What can be asked of changes that wait to be merged. */
export const mergingOperations = {
  listMergesWaiting: operation({
    method: 'get',
    path: '/merges-waiting',
    summary:
      'Changes that are merged once all holds, in the order in which they are, with what is missing and how they do on top of each other',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zMergeWaiting) }),
  }),
}
