import stripAnsi from 'strip-ansi'

/** A text as decoded, and by which encoding. */
export type Decoded = { ok: true; text: string; encoding: string } | { ok: false; why: string }

const MARKS: readonly [encoding: string, bytes: readonly number[]][] = [
  ['utf-8', [0xef, 0xbb, 0xbf]],
  ['utf-16le', [0xff, 0xfe]],
  ['utf-16be', [0xfe, 0xff]],
]

/**
 * The text of a file: by its byte order mark, else by the encoding that it declares itself, else UTF-8 (two bytes of which every second is
 * zero are UTF-16 without a mark). Bytes that are none in that encoding are refused with their place, never replaced: what is not what it
 * says would be stored changed. Linear.
 *
 * @example decodeText(new Uint8Array([0xe9]), 'iso-8859-1') // { ok: true, text: 'é', encoding: 'windows-1252' }
 */
export function decodeText(bytes: Uint8Array, declared?: string | null): Decoded {
  const mark = MARKS.find(([, sign]) => sign.every((byte, at) => bytes[at] === byte))
  const encoding = mark?.[0] ?? declared ?? unmarkedUtf16(bytes) ?? 'utf-8'
  let decoder: InstanceType<typeof TextDecoder>
  try {
    decoder = new TextDecoder(encoding, { fatal: true })
  } catch (error) {
    if (isOf('RangeError', error)) return { ok: false, why: `the encoding “${encoding.slice(0, 40)}” is not known; send UTF-8` }
    throw error
  }
  try {
    return { ok: true, text: decoder.decode(bytes), encoding: decoder.encoding }
  } catch (error) {
    if (isOf('TypeError', error))
      return { ok: false, why: `it holds bytes that are no ${decoder.encoding.toUpperCase()} (${placeOf(bytes, decoder.encoding)})` }
    throw error
  }
}

/** The encoding that the declaration of an XML document names; null where it names none. */
export function declaredXmlEncoding(bytes: Uint8Array): string | null {
  const head = String.fromCharCode(...bytes.subarray(0, 200))
  return /^\s*<\?xml\s[^>]*?encoding\s*=\s*["']([A-Za-z][\w.-]{0,40})["']/.exec(head)?.[1]?.toLowerCase() ?? null
}

/** By name, since a decoder may belong to another realm than this module. */
function isOf(name: 'RangeError' | 'TypeError', error: unknown): boolean {
  return (error as { name?: unknown } | null)?.name === name
}

function unmarkedUtf16(bytes: Uint8Array): string | null {
  if (bytes.length < 4 || bytes.length % 2 !== 0) return null
  const [a, b, c, d] = bytes
  if (a !== 0 && b === 0 && c !== 0 && d === 0) return 'utf-16le'
  return a === 0 && b !== 0 && c === 0 && d !== 0 ? 'utf-16be' : null
}

/** The line of the first byte that does not fit, found by halving: each step decodes what lies before it. */
function placeOf(bytes: Uint8Array, encoding: string): string {
  let good = 0
  let bad = bytes.length
  while (bad - good > 1) {
    const middle = (good + bad) >> 1
    try {
      // A sequence that is merely cut at the middle is no fault of what lies before it.
      new TextDecoder(encoding, { fatal: true }).decode(bytes.subarray(0, middle), { stream: true })
      good = middle
    } catch (error) {
      if (!isOf('TypeError', error)) throw error
      bad = middle
    }
  }
  let line = 1
  for (let at = 0; at < good; at++) if (bytes[at] === 0x0a) line++
  return `line ${line}`
}

/** Characters that XML 1.0 does not allow and no screen shows, but tabs and line breaks. */
const CONTROLS = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\ufffe\uffff]/g

/**
 * The text without control characters (but tabs and line breaks), and whether some were left out. The colours that a program writes for a
 * terminal go as a whole: without their first character they would stay as `[31m`.
 */
export function withoutControls(text: string): { text: string; isCleaned: boolean } {
  const kept = (text.includes('\u001b') || text.includes('\u009b') ? stripAnsi(text) : text).replace(CONTROLS, '')
  return { text: kept, isCleaned: kept.length < text.length }
}
