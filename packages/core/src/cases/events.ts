import type { CaseStep, Outcome } from './wire.js'

/** The journal's events of tests by hand and their bodies. */
export interface CasesEvents {
  /** A case as it is from now on; each text is a revision. */
  'case-written': {
    project: string
    number: number
    revision: number
    title: string
    text: string
    steps: CaseStep[]
    /** Keys of the requirements and items that it verifies. */
    verifies: string[]
  }
  'case-retired': { project: string; number: number; isRetired: boolean }
  'test-plan-made': { project: string; planId: string; name: string; release: string | null; environments: string[]; cases: number[] }
  'test-plan-changed': { project: string; planId: string; name: string; release: string | null; environments: string[]; cases: number[] }
  /** Somebody did a case in an environment; `revision` is that of the case that they saw. */
  'test-done': {
    project: string
    planId: string
    resultId: string
    number: number
    revision: number
    environment: string
    outcome: Outcome
    /** The step that failed, counted from 1; null where none did. */
    step: number | null
    words: string
    /** The defect that it was logged as. */
    item: string | null
  }
  /** Somebody stands for the plan as it was done, or takes that back. */
  'test-plan-signed': { project: string; planId: string; isSigned: boolean; words: string }
}
