import { z } from 'zod'
import { zItemSummary } from '#records/wire'

export const zLookAlikeQuery = z.object({
  title: z.string().max(200),
  text: z.string().max(5000).default(''),
  project: z.string().max(10).optional(),
  component: z.string().max(100).optional(),
})
export const zLookAlike = z.object({ item: zItemSummary, sharedWords: z.array(z.string()), relatedWords: z.array(z.tuple([z.string(), z.string()])) })
export type LookAlike = z.infer<typeof zLookAlike>
