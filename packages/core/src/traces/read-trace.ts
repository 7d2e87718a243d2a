import { atSignReader } from './readers/at-sign.js'
import { csharpReader } from './readers/csharp.js'
import { goReader } from './readers/go.js'
import { javaReader } from './readers/java.js'
import { nativeReader } from './readers/native.js'
import { dartReader, elixirReader, swiftReader } from './readers/others.js'
import { perlReader } from './readers/perl.js'
import { phpReader } from './readers/php.js'
import { pythonReader } from './readers/python.js'
import { rubyReader, shownSource } from './readers/ruby.js'
import { rustReader } from './readers/rust.js'
import { v8Reader } from './readers/v8.js'
import type { Trace, TraceException, TraceHints, TraceReader } from './trace.js'

/** Readers, the ones with the plainest marks first; a new language is one more line here. */
const READERS: readonly TraceReader[] = [
  pythonReader,
  goReader,
  rustReader,
  dartReader,
  javaReader,
  phpReader,
  elixirReader,
  swiftReader,
  rubyReader,
  csharpReader,
  v8Reader,
  atSignReader,
  nativeReader,
  perlReader,
]
const TEXT_MAX = 1_000_000
const LINES_MAX = 5000
/** A longer line is cut: no frame is that long, and every pattern is tried on every line. */
const LINE_MAX = 1000
/** By so many lines every runtime has shown its marks. */
const MARKS_WITHIN = 400
const RUNTIMES: readonly [RegExp, TraceReader['language']][] = [
  [/node|chrom|firefox|safari|webkit|javascript|browser|deno|bun|webjs/i, 'javascript'],
  [/python|pypy/i, 'python'],
  [/java|jdk|jvm|kotlin|android|scala/i, 'java'],
  [/^go(?:lang)?\b/i, 'go'],
  [/\.net|dotnet|csharp|c#|mono/i, 'csharp'],
  [/ruby/i, 'ruby'],
  [/php/i, 'php'],
  [/rust/i, 'rust'],
  [/perl/i, 'perl'],
  [/^c(?:pp|\+\+)?$/i, 'native'],
  [/swift/i, 'swift'],
  [/dart|flutter/i, 'dart'],
  [/elixir|erlang|beam/i, 'elixir'],
]

/**
 * The structure of a stack trace as its runtime printed it: frames innermost first, causes, members of groups, suppressed exceptions. Never
 * fails: a text that no reader understands keeps its hints
 * and first line and has no frames. Linear in the text: at most a million characters, 5,000 lines and 1,000 characters of a line are read,
 * and a trace without any mark in its first 400 lines is
 * given up.
 */
export function readTrace(text: string, hints: TraceHints = {}): Trace {
  const lines = text
    .slice(0, TEXT_MAX)
    .split('\n', LINES_MAX)
    .map((line) => (line.length > LINE_MAX ? line.slice(0, LINE_MAX) : line).replace(/\r$/, ''))
  for (const reader of readersFor(lines, hints)) {
    const exception = reader.read(lines)
    if (exception && (exception.frames.length > 0 || exception.cause || exception.members))
      return { language: reader.language, exception: withHints(exception, hints) }
  }
  const first = lines.find((line) => line.trim() !== '')?.trim() ?? ''
  return {
    language: 'unknown',
    exception: { type: hints.type || 'Error', message: hints.message ?? first, frames: [], cause: null },
  }
}

/** The readers whose marks the text bears, one after the other; the one of the named runtime goes first. */
function* readersFor(lines: readonly string[], hints: TraceHints): Generator<TraceReader> {
  const language = hints.runtime === undefined ? undefined : RUNTIMES.find(([pattern]) => pattern.test(hints.runtime ?? ''))?.[1]
  const looked = lines.length > MARKS_WITHIN ? lines.slice(0, MARKS_WITHIN) : lines
  const bears = (reader: TraceReader) => looked.some((line) => reader.recognises(line))
  for (const reader of READERS) if (reader.language === language && bears(reader)) yield reader
  for (const reader of READERS) if (reader.language !== language && bears(reader)) yield reader
}

function withHints(exception: TraceException, hints: TraceHints): TraceException {
  const message = hints.message ?? exception.message
  const [innermost, ...others] = exception.frames
  const source = innermost && innermost.source === undefined ? shownSource(message) : null
  return {
    ...exception,
    type: hints.type || exception.type || 'Error',
    message,
    frames: innermost ? [source === null ? innermost : { ...innermost, source }, ...others] : [],
  }
}
