/** One test's outcome in one build, as a journal entry keeps it. */
export interface TestResultBody {
  suite: string
  name: string
  outcome: 'passed' | 'failed' | 'skipped'
  durationMs: number
  message: string
  verifies: string[]
}

/** The journal's events of builds and their bodies. */
export interface BuildsEvents {
  'build-started': { repository: string; number: number; sha: string; branch: string }
  'build-finished': { repository: string; number: number; sha: string; branch: string; state: 'passed' | 'broke'; startedAtMs: number }
  'tests-reported': { repository: string; build: number; sha: string; results: TestResultBody[] }
}
