import { z } from 'zod'
import { zPageQuery } from '#basics/wire'
import { zBuild } from '#code/wire'

export const zTestResult = z.object({
  suite: z.string(),
  name: z.string(),
  outcome: z.enum(['passed', 'failed', 'skipped', 'flaky']),
  durationMs: z.number(),
  message: z.string(),
  verifies: z.array(z.string()),
})
export type TestResult = z.infer<typeof zTestResult>
export const zBuildDetail = zBuild.extend({
  tests: z.array(zTestResult),
  items: z.array(z.string()),
  pullRequest: z.number().int().nullable(),
  passedBefore: z.number().int(),
})
export type BuildDetail = z.infer<typeof zBuildDetail>
export const zBuildQuery = zPageQuery.extend({ repository: z.string().optional() })
