import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** A named state of the requirements and of what is tied to them; it never changes. */
export const zBaseline = z.object({
  baselineId: z.string(),
  name: z.string(),
  words: z.string(),
  atMs: zAtMs,
  by: z.string().nullable(),
  requirements: z.number().int(),
  links: z.number().int(),
  /** SHA-256 of its canonical text, in hex; and whether what is stored still gives it. */
  hash: z.string(),
  isIntact: z.boolean(),
  agreedBy: z.array(z.object({ personId: z.string(), atMs: zAtMs })),
  /** Why it does not count any more; null while it does. */
  withdrawn: z.string().nullable(),
})
export type Baseline = z.infer<typeof zBaseline>
const zBaselines = z.object({ rows: z.array(zBaseline) })
const zLinkOf = z.object({ kind: z.string(), item: z.string(), requirement: z.string() })
const zNamed = z.object({ key: z.string(), title: z.string() })
/** What differs between two states of the requirements. */
export const zComparison = z.object({
  from: z.string(),
  /** Null: as it is now. */
  to: z.string().nullable(),
  added: z.array(zNamed.extend({ text: z.string() })),
  removed: z.array(zNamed.extend({ text: z.string() })),
  changed: z.array(
    zNamed.extend({
      fromRevision: z.number().int(),
      toRevision: z.number().int(),
      before: z.string(),
      after: z.string(),
      because: z.string(),
    }),
  ),
  moved: z.array(zNamed.extend({ from: z.string().nullable(), to: z.string().nullable() })),
  retired: z.array(zNamed),
  restored: z.array(zNamed),
  linksAdded: z.array(zLinkOf),
  linksRemoved: z.array(zLinkOf),
})
export type Comparison = z.infer<typeof zComparison>
/** A baseline to make of what stands now. */
export const zMakeBaseline = z.strictObject({
  name: z.string().trim().min(1, 'A name is needed').max(60),
  words: z.string().trim().max(2000).default(''),
})
/** Why a baseline does not count any more. */
export const zWithdrawBaseline = z.strictObject({ words: z.string().trim().min(1, 'Say why').max(2000) })

const BASELINES = '/projects/:project/baselines'
/** What can be asked of baselines. */
export const baselinesOperations = {
  listBaselines: operation({
    method: 'get',
    path: BASELINES,
    summary: 'Named states of the requirements, the newest first',
    may: 'project.read',
    about: 'project',
    answer: zBaselines,
  }),
  makeBaseline: operation({
    method: 'post',
    path: BASELINES,
    summary: 'Keep the requirements, their revisions and what is tied to them as they are now, under a name',
    may: 'requirements.write',
    about: 'project',
    body: zMakeBaseline,
    answer: zBaselines,
    status: 201,
  }),
  compareBaseline: operation({
    method: 'get',
    path: `${BASELINES}/:baselineId/comparison`,
    summary: 'What differs between a baseline and another one, or what stands now',
    may: 'project.read',
    about: 'project',
    query: z.object({ with: z.string().max(60).optional() }),
    answer: zComparison,
  }),
  agreeBaseline: operation({
    method: 'post',
    path: `${BASELINES}/:baselineId/agreement`,
    summary: 'Agree to a baseline in one’s own name',
    may: 'requirements.write',
    about: 'project',
    answer: zBaselines,
  }),
  withdrawBaseline: operation({
    method: 'post',
    path: `${BASELINES}/:baselineId/withdrawal`,
    summary: 'Say that a baseline does not count any more; it stays readable',
    may: 'requirements.write',
    about: 'project',
    body: zWithdrawBaseline,
    answer: zBaselines,
  }),
}
