import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** A search for the commit that broke a test, by building those between the last good and the first bad one. */
export const zBisection = z.object({
  bisectionId: z.string(),
  repository: z.string(),
  suite: z.string(),
  name: z.string(),
  /** The commits between which it is sought, and the build that it was begun at. */
  good: z.string(),
  bad: z.string(),
  build: z.number().int(),
  by: z.string().nullable(),
  atMs: zAtMs,
  outcome: z.enum(['found', 'called-off', 'gone']).nullable(),
  endedAtMs: zAtMs.nullable(),
  /** What is known of commits so far, the oldest first. */
  told: z.array(z.object({ sha: z.string(), verdict: z.enum(['good', 'bad', 'untold']), build: z.number().int().nullable() })),
  /** Commits that may have broken it still, and about how many builds tell which; zero once it ended. */
  left: z.number().int(),
  steps: z.number().int(),
  /** What is built for it now; its build's number once a machine has it. */
  building: z.object({ sha: z.string(), number: z.number().int().nullable() }).nullable(),
  guilty: z.array(z.object({ sha: z.string(), subject: z.string(), author: z.string(), atMs: zAtMs, items: z.array(z.string()) })),
})
export type Bisection = z.infer<typeof zBisection>
const zBisections = z.object({ rows: z.array(zBisection) })

/** What can be asked of searches by building. */
export const bisectingOperations = {
  listBisections: operation({
    method: 'get',
    path: '/repositories/:repository/bisections',
    summary: 'Searches for the commit that broke a test: those under way, then the newest that ended, at most twenty',
    may: 'project.read',
    about: 'repository',
    answer: zBisections,
  }),
  beginBisection: operation({
    status: 201,
    method: 'post',
    path: '/repositories/:repository/bisections',
    summary:
      'Find the commit that broke a test by building those between the last build in which it passed and the first in which it fails',
    may: 'code.contribute',
    about: 'repository',
    body: z.strictObject({
      /** A build in which the test fails. */
      build: z.number().int().min(1),
      suite: z.string().max(1000),
      name: z.string().min(1).max(1000),
    }),
    answer: zBisection,
    problems: ['not-found', 'conflict'],
  }),
  callOffBisection: operation({
    method: 'post',
    path: '/repositories/:repository/bisections/:bisectionId/stop',
    summary: 'Call a search off; what is being built for it is stopped',
    may: 'code.contribute',
    about: 'repository',
    answer: zBisection,
    problems: ['not-found'],
  }),
}
