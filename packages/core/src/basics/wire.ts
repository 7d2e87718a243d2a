import { z } from 'zod'
import { NODE_KINDS } from './node-ref.js'

/** A thing of any kind, by kind and id. */
export const zNodeRef = z.object({ kind: z.enum(NODE_KINDS), id: z.string() })
/** A moment in milliseconds since 1970-01-01 UTC. */
export const zAtMs = z.number().int()
/** A calendar day without a time zone, as `2031-03-09`. */
export const zDay = z.string().regex(/^\d{4}-\d{2}-\d{2}$/)
/** A refusal as sent: problem details of RFC 9457 with our `code`. */
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
/** How much of a list is asked for, and after which mark of the page before. */
export const zPageQuery = z.object({
  cursor: z.string().max(800).optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
})
/** An answer that carries nothing but its status. */
export const zEmpty = z.object({})
