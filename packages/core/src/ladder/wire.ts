import { z } from 'zod'
import { zAtMs, zNodeRef } from '#basics/wire'
import { STAGES, DISPOSITIONS, EVIDENCE_CODES, TREAD_STATES } from './ladder.js'

/** One tread of the ladder. */
export const zStage = z.enum(STAGES)
/** How an item ended without a fix. */
export const zDisposition = z.enum(DISPOSITIONS)
/** One piece of evidence, with the thing that gives it. */
export const zEvidence = z.object({
  code: z.enum(EVIDENCE_CODES),
  by: z.string().nullable(),
  atMs: zAtMs.nullable(),
  ref: zNodeRef.nullable(),
  facts: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()])),
})
/** An item's ladder as sent. */
export const zLadder = z.object({
  stage: zStage,
  treads: z.array(z.object({ stage: zStage, state: z.enum(TREAD_STATES), evidence: z.array(zEvidence) })),
  hasComeBack: z.boolean(),
  disposition: zDisposition.nullable(),
  drift: z.array(z.object({ code: z.enum(['hole', 'claim', 'contradiction']), stage: zStage })),
})
