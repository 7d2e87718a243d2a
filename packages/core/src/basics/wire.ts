import { z } from 'zod'
import { NODE_KINDS } from './node-ref.js'

export const zNodeRef = z.object({ kind: z.enum(NODE_KINDS), id: z.string() })
export const zAtMs = z.number().int()
export const zDay = z.string().regex(/^\d{4}-\d{2}-\d{2}$/)
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
