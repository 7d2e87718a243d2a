import { z } from 'zod'
import { ReportFormatError } from './junit.js'

export interface Finding {
  tool: string
  ruleId: string
  level: 'error' | 'warning' | 'note' | 'none'
  message: string
  file: string | null
  line: number | null
  /** The tool's own identity of the finding, or one made of rule and place; lines shift, so they do not count. */
  identity: string
}
const RESULTS_MAX = 20_000
const TEXT_MAX = 4000

const zText = z.string().max(200_000)
/** What is read of SARIF 2.1.0 (OASIS); the rest of a log may be there and is passed over. */
const zSarif = z.object({
  version: z.literal('2.1.0', { error: 'only SARIF 2.1.0 is read' }),
  runs: z
    .array(
      z.object({
        tool: z.object({ driver: z.object({ name: zText }) }),
        results: z
          .array(
            z.object({
              ruleId: zText.optional(),
              level: z.enum(['error', 'warning', 'note', 'none']).default('warning'),
              kind: zText.optional(),
              message: z.object({ text: zText.default('') }),
              locations: z
                .array(
                  z.object({
                    physicalLocation: z
                      .object({
                        artifactLocation: z.object({ uri: zText.optional() }).optional(),
                        region: z.object({ startLine: z.number().int().optional() }).optional(),
                      })
                      .optional(),
                  }),
                )
                .default([]),
              partialFingerprints: z.record(z.string(), zText).optional(),
            }),
          )
          .default([]),
      }),
    )
    .max(100),
})

/** The findings of a SARIF log that say something is wrong, at most 20,000. Throws ReportFormatError with the place. */
export function readSarif(json: string): Finding[] {
  let raw: unknown
  try {
    raw = JSON.parse(json)
  } catch (error) {
    throw new ReportFormatError('not JSON', { cause: error })
  }
  const parsed = zSarif.safeParse(raw)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    throw new ReportFormatError(`${issue?.path.join('.') || 'the log'}: ${issue?.message}`)
  }
  const findings = parsed.data.runs.flatMap((run) =>
    run.results
      // A result of another kind (pass, open, notApplicable) is no finding.
      .filter((result) => result.kind === undefined || result.kind === 'fail')
      .map((result): Finding => {
        const [place] = result.locations
        const file = place?.physicalLocation?.artifactLocation?.uri?.slice(0, 500) ?? null
        const ruleId = result.ruleId?.slice(0, 200) ?? 'unnamed rule'
        const own = Object.entries(result.partialFingerprints ?? {}).sort(([a], [b]) => (a < b ? -1 : 1))[0]
        return {
          tool: run.tool.driver.name.slice(0, 100),
          ruleId,
          level: result.level,
          message: result.message.text.slice(0, TEXT_MAX),
          file,
          line: place?.physicalLocation?.region?.startLine ?? null,
          identity: own ? own.join('=').slice(0, 300) : `${ruleId} in ${file ?? 'no file'}`,
        }
      }),
  )
  if (findings.length > RESULTS_MAX) throw new ReportFormatError(`more than ${RESULTS_MAX} results`)
  return findings
}
