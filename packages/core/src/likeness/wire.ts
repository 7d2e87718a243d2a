import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

/** The text for which look-alikes are wanted. */
export const zLookAlikeQuery = z.object({
  title: z.string().max(200),
  text: z.string().max(5000).default(''),
  project: z.string().max(10).optional(),
  component: z.string().max(100).optional(),
})
/** An item like the text, with the words that say why. */
export const zLookAlike = z.object({
  item: zItemSummary,
  sharedWords: z.array(z.string()),
  relatedWords: z.array(z.tuple([z.string(), z.string()])),
  /** Words of its title that nothing of the text answers to. */
  otherWords: z.array(z.string()),
  /** The requirement that both concern most; null where none is near enough to both. */
  requirement: z.string().nullable(),
})
export type LookAlike = z.infer<typeof zLookAlike>

/** What can be asked of likeness. */
export const likenessOperations = {
  findLookAlikes: operation({
    method: 'get',
    path: '/look-alikes',
    summary: 'Items that look like what is being written',
    may: 'member-of-any',
    about: 'nothing',
    query: zLookAlikeQuery,
    answer: z.object({ rows: z.array(zLookAlike) }),
  }),
}
