import { Parser, type Result } from 'tap-parser'
import { withoutControls } from '#text/decode-text'
import { joinSuite, MESSAGE_MAX, NAME_MAX, requireRoomForCases, ReportFormatError, type TestCase } from './report.js'
import { settleRepeats } from './repeats.js'

/**
 * The cases of a TAP stream (Test Anything Protocol, versions 12 to 14), subtests included: what stands around a subtest is its suite. A
 * case that is marked TODO counts as skipped: failing it breaks nothing, as the protocol says, and passing
 * it proves nothing yet. What stands below a case that failed, as a comment or in a form of the producer's
 * own, is its message where it has no other. A plan that is not kept and a bail-out are a case that failed.
 * Throws ReportFormatError for what is no TAP.
 */
export function readTap(text: string): { cases: TestCase[]; notes: string[] } {
  const { text: sound, isCleaned } = withoutControls(text)
  if (!/^\s*(?:not ok|ok)\b|^\s*1\.\.\d+|^Bail out!/m.test(sound))
    throw new ReportFormatError('no line in it is a test point or a plan of TAP')
  const cases: TestCase[] = []
  const troubles: string[] = []
  // The case that failed last, while what stands below it may say why.
  let failed: TestCase | null = null
  // What was printed since the last point, of whatever subtest: a diagnosis that is no YAML comes before its own.
  let printed = ''
  const join = (before: string, words: string) => `${before}${before === '' ? '' : '\n'}${words}`.slice(0, MESSAGE_MAX)
  const say = (line: string) => {
    const words = line.replace(/^\s*# ?/, '').trimEnd()
    if (SUMMARY.test(words)) return
    if (failed) failed.message = join(failed.message, words)
    else printed = join(printed, words)
  }
  const watch = (parser: Parser, place: readonly string[]) => {
    parser.on('comment', say)
    parser.on('extra', say)
    parser.on('child', (child: Parser) => watch(child, [...place, child.name]))
    parser.on('assert', (result: Result) => {
      // The point that closes a subtest only sums up what was read of it.
      if (result.closingTestPoint) return
      requireRoomForCases(cases.length + 1)
      const read = toCase(result, place)
      cases.push(read)
      const isSilent = read.outcome === 'failed' && read.message === ''
      if (isSilent) read.message = printed
      failed = isSilent ? read : null
      printed = ''
    })
    parser.on('bailout', (why: string) => {
      if (place.length === 0) troubles.push(`It was broken off: ${why || 'no reason is told'}`)
    })
    parser.on('complete', (final: { plan: { start: number | null; end: number | null }; count: number; bailout: unknown }) => {
      const { start, end } = final.plan
      if (final.bailout) return
      const planned = start === null || end === null ? null : Math.max(0, end - start + 1)
      if (planned !== null && planned !== final.count)
        troubles.push(`${place.length > 0 ? `“${place.join(' › ')}” planned` : 'Planned were'} ${planned} tests; ${final.count} are in it`)
      if (planned === null && place.length === 0) troubles.push('It has no plan, so it may have been cut')
    })
  }
  const parser = new Parser()
  watch(parser, [])
  parser.end(sound.endsWith('\n') ? sound : `${sound}\n`)
  for (const trouble of new Set(troubles))
    cases.push({ suite: '', name: '(the run as a whole)', outcome: 'failed', durationMs: 0, message: `${trouble}.`, properties: {} })
  return { cases: settleRepeats(cases), notes: isCleaned ? ['Control characters in it were left out.'] : [] }
}

/** What some producers sum up at the end, which belongs to no case. */
const SUMMARY = /^(?:Subtest: .*|(?:tests|pass|fail|ok|skipped|cancelled|suites|todo|duration_ms|time)\b[ =:]*[\d.]*m?s?)$/i

function toCase(result: Result, place: readonly string[]): TestCase {
  const isSkipped = Boolean(result.skip) || Boolean(result.todo)
  const diagnosis = result.diag === null || result.diag === undefined ? '' : wordsOf(result.diag)
  const said = [result.skip, result.todo].find((word): word is string => typeof word === 'string') ?? ''
  // Some write a bare hyphen where a reason would stand.
  const reason = said === '-' ? '' : said
  return {
    suite: joinSuite(place) || 'tests',
    name: result.name.slice(0, NAME_MAX).trim() || `test ${result.id}`,
    outcome: isSkipped ? 'skipped' : result.ok ? 'passed' : 'failed',
    durationMs: Math.max(0, Number(result.time ?? (result.diag as { duration_ms?: unknown } | null)?.duration_ms ?? 0) || 0),
    message: (isSkipped ? reason : result.ok ? '' : diagnosis || result.tapError || '').slice(0, MESSAGE_MAX),
    properties: {},
  }
}

/** A diagnosis as people read it: its message first, then the rest as it was written. */
function wordsOf(diagnosis: unknown): string {
  if (typeof diagnosis === 'string') return diagnosis
  const { message, error, stack, ...rest } = diagnosis as Record<string, unknown>
  const said = [message ?? error, stack].filter((part): part is string => typeof part === 'string')
  const others = Object.entries(rest).filter(([name]) => name !== 'duration_ms' && name !== 'type')
  return [...said, ...others.map(([name, value]) => `${name}: ${typeof value === 'string' ? value : JSON.stringify(value)}`)].join('\n')
}
