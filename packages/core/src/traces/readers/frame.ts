import type { Frame, TraceException } from '../trace.js'

/** A frame from what a reader found; what is left out is not known. */
export function aFrame(given: Partial<Frame>): Frame {
  return { function: null, file: null, line: null, column: null, isApp: false, isAsync: false, ...given }
}

/** An exception with everything filled that a reader did not find. */
export function anException(given: Partial<TraceException>): TraceException {
  return { type: '', message: '', frames: [], cause: null, ...given }
}

/** No file has more lines, and no line more columns. */
const LINE_MAX = 1_000_000_000

/** A line or column as printed; null for none, and for what cannot be one. */
export function numberOf(text: string | undefined): number | null {
  if (text === undefined || text === '') return null
  const number = Number(text)
  return number <= LINE_MAX ? number : null
}

const HEAD = /^([A-Za-z_][\w$.:\\-]*)(?:\s?\[[A-Z_0-9]+\])?(?::\s?([\s\S]*))?$/

/** A place in its parts. */
export interface Position {
  file: string
  line: number | null
  column: number | null
}

/**
 * `file:line:column` or `file:line`, read from its end; null where no line stands there. Patterns that look for it from the front try each
 * colon again and again: these readers run on whatever is
 * sent, so everything that a line may hold many times is looked for from its end, or once.
 */
export function splitPosition(text: string): Position | null {
  const last = digitsAtEnd(text, text.length)
  if (last < 0) return null
  const before = digitsAtEnd(text, last)
  const at = before < 0 ? last : before
  if (at === 0) return null
  const line = numberOf(text.slice(at + 1, before < 0 ? undefined : last))
  return { file: text.slice(0, at), line, column: before < 0 ? null : numberOf(text.slice(last + 1)) }
}

/** Index of the colon before the digits that end at `end`; -1 for none. */
function digitsAtEnd(text: string, end: number): number {
  let at = end
  while (at > 0 && isDigit(text.charCodeAt(at - 1))) at--
  return at < end && text[at - 1] === ':' ? at - 1 : -1
}

const isDigit = (code: number): boolean => code >= 48 && code <= 57

/** A text without the characters of a set at its end. */
export function trimEndOf(text: string, chars: string): string {
  let end = text.length
  while (end > 0 && chars.includes(text[end - 1] ?? '')) end--
  return text.slice(0, end)
}

/** A call without its arguments: what stands before its first bracket, where it ends in one. */
export function withoutArguments(call: string): string {
  const open = call.endsWith(')') ? call.indexOf('(') : -1
  return open < 0 ? call : call.slice(0, open)
}

/** `Type: message` in its two parts; a text without a type is all message. */
export function splitHead(text: string): { type: string; message: string } {
  const match = HEAD.exec(text.trim())
  return match ? { type: match[1] ?? '', message: (match[2] ?? '').trim() } : { type: '', message: text.trim() }
}

/** Index of the bracket that the last one closes, so that inner brackets stay inside; -1 when there is none. */
export function openOfLast(text: string, open = '(', close = ')'): number {
  let depth = 0
  for (let at = text.length - 1; at >= 0; at--) {
    if (text[at] === close) depth++
    else if (text[at] === open && --depth === 0) return at
  }
  return -1
}
