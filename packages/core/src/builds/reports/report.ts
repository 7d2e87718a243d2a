import type { FindingDetail, FindingKind, FindingLevel } from '#findings/finding'

/** One case of a test report. */
export interface TestCase {
  /** Where it stands: suites from the outside in, then its class, joined by ` › `. */
  suite: string
  name: string
  /** `flaky`: it failed and passed in one build. */
  outcome: 'passed' | 'failed' | 'skipped' | 'flaky'
  durationMs: number
  /** Why it failed or was skipped; empty for what passed. */
  message: string
  properties: Record<string, string>
  /** The file that it stands in, on what machine it ran, and its place in the report from 0; left out where no report says it. */
  file?: string
  host?: string
  position?: number
}
/** Which lines of a file tests ran, by number. */
export interface FileCoverage {
  path: string
  covered: number[]
  missed: number[]
}
/** Something that a linter or an analyser found. */
export interface Finding {
  tool: string
  ruleId: string
  level: FindingLevel
  message: string
  file: string | null
  line: number | null
  /** The tool's own identity of the finding, or one made of rule, file and text; lines shift, so they do not count. */
  identity: string
  /** None of these in entries that were made before they were read. */
  kind?: FindingKind
  minutes?: number
  detail?: FindingDetail
}
/** What a report holds, by the kind of its format. */
export type ReportContent =
  | { kind: 'tests'; cases: TestCase[]; notes: string[] }
  | { kind: 'coverage'; files: FileCoverage[]; notes: string[] }
  | { kind: 'findings'; findings: Finding[]; notes: string[] }

/** Why a report was not taken, with the place; nothing of it is stored. */
export class ReportFormatError extends Error {
  constructor(message: string, options?: ErrorOptions) {
    super(message, options)
    this.name = 'ReportFormatError'
  }
}

/** At most so many cases are taken of one report. */
export const CASES_MAX = 300_000
/** A name of a suite or a test is cut here. */
export const NAME_MAX = 500
/** A message is cut here. */
export const MESSAGE_MAX = 4000

/** Refuses a report that holds more cases than are taken at once. */
export function requireRoomForCases(count: number): void {
  if (count > CASES_MAX) throw new ReportFormatError(`more than ${CASES_MAX.toLocaleString('en')} test cases; send it in several files`)
}

/** The parts of a place that say something, joined: `planner › day › books a kiln`. */
export function joinSuite(parts: readonly string[]): string {
  return parts.filter(Boolean).join(' › ').slice(0, NAME_MAX)
}
