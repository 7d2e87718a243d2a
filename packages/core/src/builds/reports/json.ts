import type { z } from 'zod'
import { withoutControls } from '#text/decode-text'
import { ReportFormatError } from './report.js'

/**
 * The JSON text as its schema reads it, its texts without control characters, whether they stood there as they are or escaped; and whether
 * some were left out. Throws ReportFormatError with the place of the first thing that does not fit.
 */
export function parseJson<Schema extends z.ZodType>(schema: Schema, text: string): { data: z.output<Schema>; isCleaned: boolean } {
  const sound = withoutControls(text)
  let isCleaned = sound.isCleaned
  let raw: unknown
  try {
    raw = JSON.parse(sound.text, (_, value: unknown) => {
      if (typeof value !== 'string') return value
      const clean = withoutControls(value)
      isCleaned ||= clean.isCleaned
      return clean.text
    })
  } catch (error) {
    throw new ReportFormatError(`not JSON: ${error instanceof Error ? error.message : 'unreadable'}`, { cause: error })
  }
  const parsed = schema.safeParse(raw)
  if (parsed.success) return { data: parsed.data, isCleaned }
  const issue = parsed.error.issues[0]
  throw new ReportFormatError(`${issue?.path.join('.') || 'the report'}: ${issue?.message}`)
}
