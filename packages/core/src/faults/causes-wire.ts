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
