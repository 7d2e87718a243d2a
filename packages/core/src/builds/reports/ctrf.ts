import { z } from 'zod'
import { parseJson } from './json.js'
import { joinSuite, MESSAGE_MAX, NAME_MAX, requireRoomForCases, type TestCase } from './report.js'
import { settleRepeats } from './repeats.js'

const zText = z.string().max(1_000_000)
/** What is read of a report in the Common Test Report Format; the rest may be there and is passed over. */
const zCtrf = z.object({
  results: z.object({
    summary: z.object({ tests: z.number().optional() }).optional(),
    tests: z.array(
      z.object({
        name: zText,
        status: z.string(),
        duration: z.number().catch(0),
        suite: z.union([zText, z.array(zText)]).optional(),
        message: zText.nullish(),
        trace: zText.nullish(),
        filePath: zText.nullish(),
        flaky: z.boolean().nullish(),
        extra: z.record(z.string(), z.unknown()).nullish(),
        labels: z.record(z.string(), z.unknown()).nullish(),
      }),
    ),
  }),
})
const OUTCOME: Record<string, TestCase['outcome']> = {
  passed: 'passed',
  failed: 'failed',
  skipped: 'skipped',
  pending: 'skipped',
  other: 'skipped',
}

/** The cases of a report in the Common Test Report Format (an open JSON form). Throws ReportFormatError with the place. */
export function readCtrf(text: string): { cases: TestCase[]; notes: string[] } {
  const {
    data: { results },
    isCleaned,
  } = parseJson(zCtrf, text)
  requireRoomForCases(results.tests.length)
  const notes = isCleaned ? ['Control characters in it were left out.'] : []
  const cases = results.tests.map((test): TestCase => {
    const outcome = OUTCOME[test.status.toLowerCase()] ?? 'skipped'
    if (OUTCOME[test.status.toLowerCase()] === undefined && notes.length < 20)
      notes.push(`The state “${test.status.slice(0, 40)}” is not known and counts as skipped.`)
    const suite = Array.isArray(test.suite) ? test.suite : (test.suite?.split(/[>›]/).map((part) => part.trim()) ?? [])
    return {
      suite: joinSuite(suite.length > 0 ? suite : [test.filePath ?? '']) || 'tests',
      name: test.name.slice(0, NAME_MAX).trim() || '(without a name)',
      outcome: test.flaky && outcome === 'passed' ? 'flaky' : outcome,
      durationMs: Math.max(0, test.duration),
      message: outcome === 'passed' && !test.flaky ? '' : [test.message, test.trace].filter(Boolean).join('\n').slice(0, MESSAGE_MAX),
      properties: Object.fromEntries(
        Object.entries({ ...test.extra, ...test.labels }).flatMap(([name, value]) =>
          typeof value === 'string' ? [[name, value.slice(0, NAME_MAX)]] : [],
        ),
      ),
    }
  })
  const told = results.summary?.tests
  if (told !== undefined && told !== cases.length) notes.push(`It says that it has ${told} cases; ${cases.length} are in it.`)
  return { cases: settleRepeats(cases), notes: [...new Set(notes)] }
}
