import { zPage, zPageQuery } from '#basics/wire'
import { zBuild } from '#code/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** One test's outcome in one build, with the requirement that it proves if it names one. */
export const zTestResult = z.object({
  suite: z.string(),
  name: z.string(),
  outcome: z.enum(['passed', 'failed', 'skipped', 'flaky']),
  durationMs: z.number(),
  message: z.string(),
  verifies: z.array(z.string()),
})
export type TestResult = z.infer<typeof zTestResult>
/** A build with its tests. */
export const zBuildDetail = zBuild.extend({
  tests: z.array(zTestResult),
  items: z.array(z.string()),
  pullRequest: z.number().int().nullable(),
  passedBefore: z.number().int(),
})
export type BuildDetail = z.infer<typeof zBuildDetail>
/** Which builds: of one repository, or of all that the asker sees. */
export const zBuildQuery = zPageQuery.extend({ repository: z.string().optional() })

/** What can be asked of builds. */
export const buildsOperations = {
  listBuilds: operation({
    method: 'get',
    path: '/builds',
    summary: 'Builds, newest first',
    may: 'member-of-any',
    about: 'nothing',
    query: zBuildQuery,
    answer: zPage(zBuild),
  }),
  readBuild: operation({
    method: 'get',
    path: '/builds/:repository/:number',
    summary: 'A build with its tests',
    may: 'project.read',
    about: 'repository',
    answer: zBuildDetail,
  }),
}
