import type { Trace, TraceHints, TraceReader } from './trace.js'
import { v8Reader } from './v8-reader.js'

/** Readers in order of precedence; a new language is one more line here. */
const READERS: readonly TraceReader[] = [v8Reader]
const LINES_MAX = 5000

/**
 * The structure of a stack trace as its runtime printed it. Never fails: a text that no reader understands keeps its hints and
 * first line and has no frames. Linear in the text; lines beyond 5,000 are passed over.
 */
export function readTrace(text: string, hints: TraceHints = {}): Trace {
  const lines = text.split('\n', LINES_MAX).map((line) => line.replace(/\r$/, ''))
  for (const reader of READERS) {
    if (!reader.recognises(lines, hints)) continue
    const exception = reader.read(lines, hints)
    if (exception) return { language: reader.language, exception }
  }
  const first = lines.find((line) => line.trim() !== '')?.trim() ?? ''
  return {
    language: 'unknown',
    exception: { type: hints.type || 'Error', message: hints.message ?? first, frames: [], cause: null },
  }
}
