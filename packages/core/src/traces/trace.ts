/** One line of a stack trace that names code. Lines and columns count from 1; null where the runtime prints none. */
export interface Frame {
  function: string | null
  file: string | null
  line: number | null
  column: number | null
  /** Whether the frame belongs to the program itself rather than to its runtime or a package. */
  isApp: boolean
  isAsync: boolean
  /** The source line, where the runtime prints it along. */
  source?: string
  /** The place in the built file, where a source map led to the one above. */
  built?: { file: string; line: number; column: number | null }
}
/** One exception of a trace with its frames, innermost first, and the exception that it was caused by. */
export interface TraceException {
  type: string
  message: string
  frames: Frame[]
  cause: TraceException | null
  /** Members of a group of exceptions. */
  members?: TraceException[]
  /** Exceptions that came up while this one was on its way (Java's suppressed ones). */
  suppressed?: TraceException[]
  /** Its cause is what was being handled when it came up, not what it was thrown for. */
  isContext?: boolean
  /** The thread, task or goroutine that it happened in, where it is named. */
  thread?: string
  /** Frames that the runtime left out: common to the exception above, or repeated by recursion. */
  hiddenFrames?: number
}
/** The languages and runtimes whose stack traces are read. */
export const TRACE_LANGUAGES = [
  'javascript',
  'python',
  'java',
  'go',
  'csharp',
  'ruby',
  'php',
  'rust',
  'perl',
  'native',
  'swift',
  'dart',
  'elixir',
  'unknown',
] as const
/** A language or runtime whose stack traces are read. */
export type TraceLanguage = (typeof TRACE_LANGUAGES)[number]
/** A stack trace as read: exceptions from the outermost to their causes, each with its frames. */
export interface Trace {
  /** The reader that understood the text; `unknown` when none did and only type and message are kept. */
  language: TraceLanguage
  exception: TraceException
}
/** What came with the trace as attributes; they win over what the text says. */
export interface TraceHints {
  type?: string
  message?: string
  /** The runtime or language as the program names it: `nodejs`, `cpython`, `OpenJDK Runtime Environment` … */
  runtime?: string
}
/**
 * One language's way of printing traces. `recognises` looks at one line after the other for what only this form has; `read` is linear in
 * their number and returns null when the text is not of this
 * form after all.
 */
export interface TraceReader {
  language: Exclude<TraceLanguage, 'unknown'>
  recognises(line: string): boolean
  read(lines: readonly string[]): TraceException | null
}
