import { zNodeRef, zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { zItemSummary } from '#records/wire'
import { z } from 'zod'

export const zRequirement = z.object({
  key: z.string(),
  title: z.string(),
  text: z.string(),
  parent: z.string().nullable(),
  isHeading: z.boolean(),
  revision: z.number().int(),
  implementedBy: z.number().int(),
  brokenBy: z.array(z.string()),
  tests: z.number().int(),
  failingTests: z.number().int(),
})
export type Requirement = z.infer<typeof zRequirement>
export const zRequirementDetail = zRequirement.extend({
  items: z.array(zItemSummary.extend({ linkKind: z.string(), isSuspect: z.boolean() })),
  children: z.array(z.string()),
  verifiedBy: z.array(z.object({ test: z.string(), outcome: z.string(), build: zNodeRef })),
  revisions: z.array(z.object({ revision: z.number().int(), text: z.string(), atMs: zAtMs, by: z.string().nullable() })),
})
export type RequirementDetail = z.infer<typeof zRequirementDetail>
export const zWriteRequirement = z.strictObject({ title: z.string().trim().min(1).max(200), text: z.string().max(20_000) })

/** What can be asked of requirements. */
export const requirementsOperations = {
  listRequirements: operation({
    method: 'get',
    path: '/requirements',
    summary: 'All requirements in document order',
    may: 'member-of-any',
    about: 'nothing',
    answer: z.object({ rows: z.array(zRequirement) }),
  }),
  readRequirement: operation({
    method: 'get',
    path: '/requirements/:key',
    summary: 'One requirement',
    may: 'project.read',
    about: 'requirement',
    answer: zRequirementDetail,
  }),
  writeRequirement: operation({
    method: 'put',
    path: '/requirements/:key',
    summary: 'Write a new revision',
    may: 'requirements.write',
    about: 'requirement',
    body: zWriteRequirement,
    answer: zRequirementDetail,
  }),
}
