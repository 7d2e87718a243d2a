/** The open formats in which builds report, by the name that stands in the path of the intake. */
export const REPORT_FORMATS = ['junit', 'tap', 'ctrf', 'cobertura', 'lcov', 'jacoco', 'clover', 'sarif'] as const
/** One of them. */
export type ReportFormat = (typeof REPORT_FORMATS)[number]

/** The media types that each may come as; the first is what the companion sends. */
export const REPORT_MEDIA: Record<ReportFormat, readonly [string, ...string[]]> = {
  junit: ['application/xml', 'text/xml'],
  tap: ['text/plain', 'text/tap'],
  ctrf: ['application/json'],
  cobertura: ['application/xml', 'text/xml'],
  lcov: ['text/plain'],
  jacoco: ['application/xml', 'text/xml'],
  clover: ['application/xml', 'text/xml'],
  sarif: ['application/sarif+json', 'application/json'],
}

/** How much of a file is looked at to tell what it is. */
const HEAD_MAX = 4000
/** What the beginning of a file says about its format, in the order of asking. */
const SIGNS: readonly [ReportFormat, RegExp][] = [
  ['junit', /<testsuites?[\s>/]/],
  ['jacoco', /<report[\s>]|JACOCO/],
  ['clover', /<coverage\b[^>]*\b(?:clover|generated)=/],
  ['cobertura', /<coverage[\s>]/],
  ['ctrf', /^\{[\s\S]*?(?:"reportFormat"\s*:\s*"CTRF"|"results"\s*:\s*\{)/],
  ['sarif', /^\{[\s\S]*?(?:sarif|"runs"\s*:)/],
  ['tap', /^(?:TAP version \d+|(?:not )?ok\b|1\.\.\d)/m],
  ['lcov', /^(?:TN:|SF:)/m],
]

/**
 * What format a report is in, by how it begins; null where that cannot be told, so that the sender has to say it.
 *
 * @example guessReportFormat('<testsuites tests="3">') // 'junit'
 */
export function guessReportFormat(text: string): ReportFormat | null {
  const head = text
    .slice(0, HEAD_MAX)
    .replace(/^\uFEFF/, '')
    .trimStart()
  return SIGNS.find(([, sign]) => sign.test(head))?.[0] ?? null
}
