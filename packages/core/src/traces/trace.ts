/** One line of a stack trace that names code. Lines and columns count from 1; null where the runtime prints none. */
export interface Frame {
  function: string | null
  file: string | null
  line: number | null
  column: number | null
  /** Whether the frame belongs to the program itself rather than to its runtime or a package. */
  isApp: boolean
  isAsync: boolean
}

/** One exception of a trace with its frames, innermost first, and the exception that it was caused by. */
export interface TraceException {
  type: string
  message: string
  frames: Frame[]
  cause: TraceException | null
}

export interface Trace {
  /** The reader that understood the text; `unknown` when none did and only type and message are kept. */
  language: 'javascript' | 'unknown'
  exception: TraceException
}

/** What came with the trace as attributes; they win over what the text says. */
export interface TraceHints {
  type?: string
  message?: string
  runtime?: string
}

/**
 * One language's way of printing traces. `recognises` looks at the lines only; `read` is linear in their number and returns null
 * when the text is not of this form after all.
 */
export interface TraceReader {
  language: Trace['language']
  recognises(lines: readonly string[], hints: TraceHints): boolean
  read(lines: readonly string[], hints: TraceHints): TraceException | null
}
