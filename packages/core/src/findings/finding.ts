/** Kinds of findings: what goes wrong, what lets somebody in, and what only makes the code harder to work with. */
export const FINDING_KINDS = ['bug', 'weakness', 'smell'] as const
/** One of those. */
export type FindingKind = (typeof FINDING_KINDS)[number]
/** The levels of SARIF 2.1.0 (3.27.10). */
export const FINDING_LEVELS = ['error', 'warning', 'note', 'none'] as const
/** One of those. */
export type FindingLevel = (typeof FINDING_LEVELS)[number]
/** A place on the way to a finding: where a value comes from, and through what it goes (a code flow of SARIF, 3.36). */
export interface FindingStep {
  file: string | null
  line: number | null
  message: string
}
/** What a report says of a finding beside where it is: how it comes about, how it could be mended, and a page about its rule. */
export interface FindingDetail {
  steps: FindingStep[]
  fixes: string[]
  helpUrl: string | null
}

/** What it takes to mend a finding of each kind, in minutes, where its report does not say. */
export const MINUTES_TO_MEND: Record<FindingKind, number> = { bug: 30, weakness: 60, smell: 10 }

const WEAKNESS = /^(?:security|vulnerability|external\/cwe\/|cwe-?\d)/i
const SMELL = /^(?:maintainability|style|readability|complexity|duplication|convention|formatting|documentation|performance)$/i
const BUG = /^(?:correctness|reliability|bug|error)$/i

/** The kind of a finding by the tags of its rule; where those say nothing, an error is a bug and all else a smell. */
export function kindOfFinding(level: FindingLevel, tags: readonly string[] = []): FindingKind {
  if (tags.some((tag) => WEAKNESS.test(tag))) return 'weakness'
  if (tags.some((tag) => BUG.test(tag))) return 'bug'
  if (tags.some((tag) => SMELL.test(tag))) return 'smell'
  return level === 'error' ? 'bug' : 'smell'
}
