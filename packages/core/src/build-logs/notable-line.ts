import { withoutControls } from '#text/decode-text'
import type { LogMark } from './wire.js'

/** A line of a log that somebody looks for, wherever it stands: what it is, its words, and the place in code that it names. */
export type NotableLine = Omit<LogMark, 'line'>

/** So much of a line is looked at. */
const READ_CHARS = 500
/** Words that some such line must hold; most lines hold none. */
const ANY = /err|fail|fatal|panic|exception|traceback|abort|segmentation|not ok|not found|warn|cannot|undefined reference|✖|×/i
/** Counts that say that there was nothing, and names of things that merely bear the word. */
const NONE_OF_IT = new RegExp(
  String.raw`(?:^|[^\d])0 (?:errors?|failed|failures?|warnings?)\b|\bno (?:errors?|failures?|warnings?)\b|` +
    String.raw`\b(?:errors?|failures|failed|warnings?)\s*[:=]\s*0\b`,
  'i',
)
const ERRORS: readonly RegExp[] = [
  // Compilers and linters: `src/a.c:3:5: error: …`, `src/a.ts(3,5): error TS2322: …`, `error[E0308]: …`, `ERROR in …`.
  /(?:^|[\s:)\]])(?:fatal )?error(?:\[\w+\]| [A-Z]{1,6}\d{1,6})?:/i,
  /^\s*\[?(?:ERROR|FATAL|SEVERE)\b\]?/,
  // Package managers and make: `npm ERR! …`, `make: *** [x] Error 2`.
  /^npm (?:ERR!|error)\s/,
  /^make(?:\[\d+\])?: \*\*\* /,
  // What runtimes print: `TypeError: …`, `Exception in thread`, `Traceback`, `panic: …`, `Segmentation fault`.
  /^\s*(?:\[cause\]: )?(?:[\w$]{1,80}\.){0,12}\w{0,80}(?:Error|Exception)\b(?: \[\w+\])?:/,
  /^(?:Exception in thread |Traceback \(most recent call last\)|panic: |Segmentation fault|Aborted\b|terminate called )/,
  // Test runners: `not ok 3 - …`, `FAILED tests/…`, `--- FAIL: …`, `✖ …`, `FAIL src/…`.
  /^\s*not ok \d/,
  /^\s*(?:FAIL|FAILED|--- FAIL:?|✖|×|✗|✘)\s\S/,
  /\bundefined reference to\b|\bcannot find symbol\b|\bcommand not found\b/,
]
const WARNINGS: readonly RegExp[] = [
  /(?:^|[\s:)\]])warning(?:\[\w+\]| [A-Z]{1,6}\d{1,6})?:/i,
  /^\s*\[?WARN(?:ING)?\b\]?/,
  /^npm (?:WARN|warn)\s/,
]
/** Steps that are marked as known to fail do not count, nor do headings over what failed. */
const EXPECTED = /#\s*(?:TODO|SKIP)\b|\b(?:failing|failed) tests?:?\s*$/i
/** A file with an ending and a line: `src/a.c:3`, `src/a.ts(3,5)`, `File "a.py", line 3`. */
const PLACE = /(?:^|[\s("'[])((?:[A-Za-z]:)?[\w./\\@+-]{1,200}\.[A-Za-z]\w{0,7})(?::|\(|", line )(\d{1,7})\b/

/**
 * Whether a line tells of an error or a warning, by the shapes in which compilers, linters, package managers, runtimes and test runners
 * write them; null for the rest. The text is without colours. Linear in the line, of which 500 characters are looked at.
 */
export function readNotableLine(line: string): NotableLine | null {
  const read = line.slice(0, READ_CHARS)
  if (!ANY.test(read)) return null
  const text = withoutControls(read).text
  if (EXPECTED.test(text) || NONE_OF_IT.test(text)) return null
  const kind = ERRORS.some((pattern) => pattern.test(text)) ? 'error' : WARNINGS.some((pattern) => pattern.test(text)) ? 'warning' : null
  if (kind === null) return null
  const [, path, at] = PLACE.exec(text) ?? []
  return { kind, text: text.trim(), place: path === undefined ? null : { path: path.replaceAll('\\', '/'), line: Number(at) } }
}
