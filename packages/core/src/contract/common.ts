import { z } from 'zod'
import { NODE_KINDS } from '../basics/node-ref.js'
import { STAGES, DISPOSITIONS, TREAD_STATES, EVIDENCE_CODES } from '../ladder/ladder.js'

export const zNodeRef = z.object({ kind: z.enum(NODE_KINDS), id: z.string() })
export const zStage = z.enum(STAGES)
export const zDisposition = z.enum(DISPOSITIONS)
export const zItemType = z.string().regex(/^[a-z][a-z0-9-]{0,29}$/, 'Not a type')
export const zSeverity = z.number().int().min(1).max(5)
export const zAtMs = z.number().int()
export const zDay = z.string().regex(/^\d{4}-\d{2}-\d{2}$/)
export const zItemKey = z.string().regex(/^[A-Z][A-Z0-9]{0,9}-[1-9]\d{0,8}$/)
export const zRole = z.enum(['reader', 'member', 'lead', 'admin'])
export type Role = z.infer<typeof zRole>

export const zPerson = z.object({ personId: z.string(), name: z.string(), initials: z.string(), role: zRole.nullable() })
export type Person = z.infer<typeof zPerson>

export const zEvidence = z.object({
  code: z.enum(EVIDENCE_CODES),
  by: z.string().nullable(),
  atMs: zAtMs.nullable(),
  ref: zNodeRef.nullable(),
  facts: z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()])),
})
export const zLadder = z.object({
  stage: zStage,
  treads: z.array(z.object({ stage: zStage, state: z.enum(TREAD_STATES), evidence: z.array(zEvidence) })),
  hasComeBack: z.boolean(),
  disposition: zDisposition.nullable(),
  drift: z.array(z.object({ code: z.enum(['hole', 'claim', 'contradiction']), stage: zStage })),
})

export const zProblem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string().optional(),
  code: z.string(),
  fields: z.record(z.string(), z.string()).optional(),
  facts: z.record(z.string(), z.unknown()).optional(),
  requestId: z.string().optional(),
})
export type ProblemDetails = z.infer<typeof zProblem>

/** One page of a list; `nextCursor` is null on the last. */
export function zPage<Row extends z.ZodType>(row: Row) {
  return z.object({ rows: z.array(row), nextCursor: z.string().nullable(), total: z.number().int().optional() })
}

export const zPageQuery = z.object({
  cursor: z.string().max(800).optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
})
export const zEmpty = z.object({})
