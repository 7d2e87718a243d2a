import type { Finding } from './reports/report.js'

/** One test's outcome in one build, as a journal entry keeps it. */
export interface TestResultBody {
  suite: string
  name: string
  outcome: 'passed' | 'failed' | 'skipped' | 'flaky'
  durationMs: number
  message: string
  verifies: string[]
  /** None of these in entries that were made before they were read, and where a report does not say them. */
  file?: string | null
  host?: string | null
  position?: number | null
}
/** How a build may be told to have ended; `stopped`: somebody broke it off. */
export type ToldOutcome = 'passed' | 'broke' | 'stopped'
/** What a report says about itself. `sha` is empty where its sender did not say the commit. */
interface Reported {
  repository: string
  build: number
  sha: string
  branch?: string
}

/** The journal's events of builds and their bodies. */
export interface BuildsEvents {
  'build-started': { repository: string; number: number; sha: string; branch: string }
  /** `state` is null where its sender did not say how it ended: its tests decide. */
  'build-finished': { repository: string; number: number; sha: string; branch: string; state: ToldOutcome | null; startedAtMs: number }
  /**
   * A build service calls its builds by names of its own (`ci-1877`); the number by which we know it is
   * decided once. Not shown is the id of the chain of events that a build belongs to.
   */
  'build-named': { repository: string; name: string; number: number; isShown: boolean }
  'build-step-told': {
    repository: string
    build: number
    step: string
    name: string
    /** The step that it is a part of; none in entries that were made before steps could be parts. */
    parent?: string | null
    startedAtMs: number | null
    finishedAtMs: number | null
    outcome: ToldOutcome | null
  }
  'tests-reported': Reported & { results: TestResultBody[] }
  /** Lines as ranges (`1-5 8`). */
  'coverage-reported': Reported & { files: { path: string; covered: string; missed: string }[] }
  /** Somebody says that they see to a failing test, or do not any more. */
  'failure-taken': { repository: string; branch: string; suite: string; name: string; personId: string | null; note: string }
  /** A test holds no merge up until a day is over, though it runs and is told; `untilDay` null takes that back. */
  'test-set-aside': { repository: string; suite: string; name: string; untilDay: string | null; why: string }
  /** Something that was built, by its package URL; `sbom` is the address of its bill of materials. */
  'artefact-told': { purl: string; name: string; version: string | null; repository: string; state: string; sbom: string | null }
  'findings-reported': { repository: string; sha: string; findings: Finding[] }
}
