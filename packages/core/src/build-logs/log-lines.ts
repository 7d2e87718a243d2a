/** A line of a log is kept up to here; what is longer says how much was left out. */
export const LINE_CHARS_MAX = 4000
/** What a terminal is told beside colours: titles, links, moves, modes. Each alternative is read once from its first character on. */
const OTHER_SEQUENCES = new RegExp(
  [
    // Operating system commands and their like, up to their end (ECMA-48, 8.3.89; `ESC ]` … BEL).
    String.raw`\u001b[\]PX^_][^\u0007\u001b]*(?:\u0007|\u001b\\)?`,
    // Control sequences (ECMA-48, 5.4) but those that end in m, which are colours.
    String.raw`\u001b\[[0-?]*[ -/]*[@-ln-~]`,
    // All that is left of an escape that begins no colour.
    String.raw`\u001b(?!\[[0-9;:]*m)[ -/]*[0-Z\\-~]?`,
  ].join('|'),
  'g',
)
/** What no screen shows, but tabs and the escape of colours. */
const CONTROLS = /[\u0000-\u0008\u000b\u000c\u000e-\u001a\u001c-\u001f\u007f\u0080-\u009f]/g

/** Lines that are whole, and the bytes after the last of them. */
export interface CutLines {
  lines: string[]
  rest: Uint8Array
}

/**
 * Cuts the bytes of a log into lines, as a terminal would show them: a lone carriage return begins the line
 * anew (bars that count up leave their last state), sequences but colours (SGR, ECMA-48 8.3.117) go, bytes that
 * are no UTF-8 become U+FFFD. Bytes after the last line break are given back; with `isWhole` they are the last
 * line. Lines over 4,000 characters are cut and say so. O(bytes).
 */
export function cutLines(bytes: Uint8Array, { isWhole = false }: { isWhole?: boolean } = {}): CutLines {
  const end = isWhole ? bytes.length : bytes.lastIndexOf(LINE_FEED) + 1
  const text = new TextDecoder('utf-8').decode(bytes.subarray(0, end))
  const lines = text === '' ? [] : (text.endsWith('\n') ? text.slice(0, -1) : text).split('\n').map(asShown)
  return { lines, rest: bytes.subarray(end) }
}
const LINE_FEED = 0x0a

function asShown(raw: string): string {
  const line = raw.endsWith('\r') ? raw.slice(0, -1) : raw
  const shown = line.slice(line.lastIndexOf('\r') + 1)
  // What is cut off is not read: a line of megabytes costs no more than a long one.
  const read = shown.slice(0, 2 * LINE_CHARS_MAX)
  const plain = read.includes('\u001b') ? read.replace(OTHER_SEQUENCES, '') : read
  const kept = plain.replace(CONTROLS, '')
  if (kept.length <= LINE_CHARS_MAX && shown.length === read.length) return kept
  return `${kept.slice(0, LINE_CHARS_MAX)} … ${shown.length - LINE_CHARS_MAX} further characters`
}
