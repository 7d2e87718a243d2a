import { z } from 'zod'
import { zAtMs } from '#basics/wire'
import { zSuspect } from '#code/wire'

/** Why nothing can be said of who brought a fault in. */
export const CAUSE_GAPS = ['no-repository', 'no-release', 'unknown-release', 'first-release', 'no-commits', 'no-git'] as const
const zCauseRelease = z.object({ release: z.string(), sha: z.string() })
/** What came between the last release without a fault and the first with it. */
export const zFaultCauses = z.object({
  repository: z.string().nullable(),
  lastGood: zCauseRelease.nullable(),
  firstBad: zCauseRelease.nullable(),
  /** The deployment that brought it where it was seen first. */
  cameWith: z.object({ deploymentId: z.string(), environment: z.string(), atMs: zAtMs }).nullable(),
  suspects: z.array(zSuspect),
  gap: z.enum(CAUSE_GAPS).nullable(),
})
export type FaultCauses = z.infer<typeof zFaultCauses>

/** Values of attributes that a fault has more often than what else its service does. */
export const zUnusual = z.object({
  /** Occurrences that were looked at: the newest ones that are kept. */
  looked: z.number().int(),
  /** What they are held against: the service's work in the same hours, or its other faults where it tells of no work. */
  against: z.enum(['traffic', 'other-faults']),
  rows: z.array(
    z.object({
      attribute: z.string(),
      value: z.string(),
      own: z.number().int(),
      ownOf: z.number().int(),
      base: z.number().int(),
      baseOf: z.number().int(),
      ratio: z.number(),
      from: z.number(),
      to: z.number(),
    }),
  ),
})
export type Unusual = z.infer<typeof zUnusual>
