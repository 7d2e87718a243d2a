import type { Frame, TraceException } from '../trace.js'

/** A frame from what a reader found; what is left out is not known. */
export function aFrame(given: Partial<Frame>): Frame {
  return { function: null, file: null, line: null, column: null, isApp: false, isAsync: false, ...given }
}

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

const HEAD = /^([A-Za-z_][\w$.:\\-]*(?:\.[\w$]+)*)(?:\s?\[[A-Z_0-9]+\])?(?::\s?([\s\S]*))?$/

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
