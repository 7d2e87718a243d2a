import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'
import { LEFT_OUT } from './choose-commits.js'

const zWorkCommit = z.object({ sha: z.string(), subject: z.string(), author: z.string(), atMs: zAtMs })

/** A file of the whole change: what stands on its sheet is what these commits did to it together, with nobody else's change between. */
export const zStrand = z.object({
  /** Where it lies after the change; where it is gone, where it lay. */
  path: z.string(),
  sheet: z.number().int(),
  shas: z.array(z.string()),
  /** The open pull request in which the right side stands as it is here; null where remarks go to the last commit. */
  pullRequest: z.number().int().nullable(),
})
export type WholeStrand = z.infer<typeof zStrand>

/** What was changed for an item in one repository. */
export const zChangePart = z.object({
  repository: z.string(),
  /** The commits that make it up, the oldest first. */
  commits: z.array(zWorkCommit.extend({ isOnMain: z.boolean(), pullRequest: z.number().int().nullable() })),
  /** Those that add nothing, with why; `of` is the commit that has the same change. */
  leftOut: z.array(zWorkCommit.extend({ why: z.enum(LEFT_OUT), of: z.string().nullable() })),
  pullRequests: z.array(
    z.object({
      number: z.number().int(),
      title: z.string(),
      state: z.enum(['open', 'merged', 'closed']),
    }),
  ),
  /** Diffs to be shown one after the other; within one, a path is changed once. */
  sheets: z.array(z.object({ diff: z.string(), isCut: z.boolean() })),
  strands: z.array(zStrand),
  /** Why its files cannot be shown; null where they can. */
  trouble: z.string().nullable(),
})
export type ChangePart = z.infer<typeof zChangePart>

/** All that was changed for an item, over all repositories that the asker may read. */
export const zWholeChange = z.object({
  key: z.string(),
  title: z.string(),
  parts: z.array(zChangePart),
  /** Whether it has more commits than are read for this. */
  isShort: z.boolean(),
})
export type WholeChange = z.infer<typeof zWholeChange>

/** What can be asked of the whole change of an item. */
export const wholeChangeOperations = {
  readWholeChange: operation({
    method: 'get',
    path: '/items/:key/change',
    summary: 'All that was changed for an item over all repositories: one list of files, each with what its commits did to it together',
    may: 'project.read',
    about: 'item',
    answer: zWholeChange,
  }),
}
