import type { z } from 'zod'
import { ReportFormatError } from './report.js'

/** The JSON text as its schema reads it. Throws ReportFormatError with the place of the first thing that does not fit. */
export function parseJson<Schema extends z.ZodType>(schema: Schema, text: string): z.output<Schema> {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch (error) {
    throw new ReportFormatError(`not JSON: ${error instanceof Error ? error.message : 'unreadable'}`, { cause: error })
  }
  const parsed = schema.safeParse(raw)
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]
  throw new ReportFormatError(`${issue?.path.join('.') || 'the report'}: ${issue?.message}`)
}
