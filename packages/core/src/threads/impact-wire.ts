import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

/** What hangs on a requirement, and on those that refine it: what a change of it would reach. */
export const zImpact = z.object({
  key: z.string(),
  /** Requirements that refine it, directly or by others, with how far away. */
  refinedBy: z.array(z.object({ key: z.string(), title: z.string(), steps: z.number().int() })),
  items: z.array(zItemSummary.extend({ of: z.string(), linkKind: z.string() })),
  /** Files that commits of those items touched, the most touched first, with how many did and when last. */
  files: z.array(z.object({ repository: z.string(), path: z.string(), commits: z.number().int(), lastAtMs: zAtMs })),
  /** Files beyond those that are listed. */
  moreFiles: z.number().int(),
  tests: z.array(z.object({ name: z.string(), of: z.string(), outcome: z.string(), byHand: z.boolean() })),
  /** Whoever owns an item of it or made a commit for one, by how much of it is theirs. */
  people: z.array(z.object({ name: z.string(), items: z.number().int(), commits: z.number().int() })),
  /** What runs now and holds work for it. */
  runs: z.array(z.object({ service: z.string(), release: z.string(), environment: z.string(), items: z.array(z.string()) })),
})
export type Impact = z.infer<typeof zImpact>

/** What can be asked of impact. */
export const impactOperations = {
  readImpact: operation({
    method: 'get',
    path: '/requirements/:key/impact',
    summary: 'What a change of a requirement would reach: requirements that refine it, items, files, tests, people, and what runs',
    may: 'project.read',
    about: 'requirement',
    answer: zImpact,
  }),
}
