import { PROBLEM_CATALOGUE, type ProblemCode } from './problem-catalogue.js'

/** What a refusal may carry beside its code: a sentence, mistakes by field, data for the interface. */
export interface ProblemExtras {
  /** What happened, what was kept and what to do, for a person. */
  detail?: string
  /** Messages by name of the input field that caused them. */
  fields?: Record<string, string>
  /** Machine-readable facts, such as the choices for an ambiguous number. */
  facts?: Record<string, unknown>
  headers?: Record<string, string>
  cause?: unknown
}

/** An expected failure: it carries a code of the catalogue and becomes RFC 9457 problem details on the wire. */
export class Problem extends Error {
  readonly code: ProblemCode
  readonly status: number
  readonly title: string
  readonly fields: Record<string, string> | undefined
  readonly facts: Record<string, unknown> | undefined
  readonly headers: Record<string, string> | undefined

  constructor(code: ProblemCode, extras: ProblemExtras = {}) {
    const entry = PROBLEM_CATALOGUE[code]
    super(extras.detail ?? entry.title, { cause: extras.cause })
    this.name = 'Problem'
    this.code = code
    this.status = entry.status
    this.title = entry.title
    this.fields = extras.fields
    this.facts = extras.facts
    this.headers = extras.headers
  }
}
