import { diffLines, diffWordsWithSpace } from 'diff'

/** What a test expected, and what it got instead. */
export interface ExpectedActual {
  expected: string
  actual: string
}
/** A part of both texts, or of the one alone. */
export interface DifferPart {
  text: string
  kind: 'same' | 'expected' | 'actual'
}

/** Longer texts are held against each other by lines, not by words. */
const WORDS_MAX = 2000
const EITHER_MAX = 20_000

/** A pair of lines by which runners say both values, and which of them was expected. */
const LABELLED: readonly (readonly [expected: RegExp, actual: RegExp])[] = [
  [/^\s*Expected(?: value)?:[ \t]+(.+)$/im, /^\s*(?:Received|Actual|But was|Got)(?: value)?:[ \t]+(.+)$/im],
  [/^\s*expected\s*:[ \t]+(.+)$/im, /^\s*actual\s*:[ \t]+(.+)$/im],
  [/^\s*right:[ \t]+(.+)$/im, /^\s*left:[ \t]+(.+)$/im],
  [/\bwant(?:ed)?:?[ \t]+(\S.*)$/im, /\bgot:?[ \t]+(\S.*?)(?:[,;][ \t]+want\b.*)?$/im],
]
/** Both values in one sentence; the names say which is which. */
const SENTENCES: readonly RegExp[] = [
  /expected:?\s*<(?<expected>[\s\S]*?)>,?\s*(?:but\s+was|but\s+got|actual):?\s*<(?<actual>[\s\S]*?)>/i,
  /^(?<actual>.+?) (?:!==|!=) (?<expected>.+)$/m,
  /^(?:E\s+)?assert (?<actual>.+?) == (?<expected>.+)$/m,
  /expected (?!values to be)(?<actual>.+?) to (?:strictly |deeply |deep |loosely )*(?:equal|be|eql|match)(?: to)? (?<expected>.+)$/im,
]

/**
 * What a failed test expected and got, read from its message as test runners write it: labelled lines (`Expected:`, `Received:`; `left:`,
 * `right:`), a difference by lines (`+ actual - expected`, `- Expected + Received`), or a sentence (`expected:<3> but was:<4>`,
 * `3 !== 4`). Null where the message says no such thing. Linear in the length of the message, of which 20,000 characters are read.
 */
export function readExpectedActual(message: string): ExpectedActual | null {
  const text = message.slice(0, EITHER_MAX)
  return byLines(text) ?? byLabels(text) ?? bySentence(text)
}

/** A unified difference: each line is of the one, of the other, or of both. */
function byLines(text: string): ExpectedActual | null {
  const lines = text.split('\n')
  const head = lines.findIndex((line) => /^\s*(?:\+ actual\s+- expected|- Expected\b.*)\s*$/.test(line))
  if (head < 0) return null
  const isPlusActual = /\+ actual/.test(lines[head] ?? '') || /^\s*\+ Received/.test(lines[head + 1] ?? '')
  if (!isPlusActual) return null
  const sides = { expected: [] as string[], actual: [] as string[] }
  let has = false
  for (const line of lines.slice(head + 1)) {
    if (/^\s*(?:\+ Received|@@ |\.\.\.\s*(?:Skipped lines)?$)/.test(line)) continue
    if (/^\s+at .+[:)]/.test(line)) break
    const sign = /^\s{0,4}([+-])\s?(.*)$/.exec(line)
    if (sign) has = true
    const rest = sign?.[2] ?? line
    if (sign?.[1] !== '+') sides.expected.push(rest)
    if (sign?.[1] !== '-') sides.actual.push(rest)
  }
  return has ? { expected: trimmed(sides.expected), actual: trimmed(sides.actual) } : null
}

function byLabels(text: string): ExpectedActual | null {
  for (const [expectedAt, actualAt] of LABELLED) {
    const [expected, actual] = [expectedAt.exec(text)?.[1], actualAt.exec(text)?.[1]]
    if (expected !== undefined && actual !== undefined) return { expected: bare(expected), actual: bare(actual) }
  }
  return null
}

function bySentence(text: string): ExpectedActual | null {
  for (const sentence of SENTENCES) {
    const { expected, actual } = sentence.exec(text)?.groups ?? {}
    if (expected !== undefined && actual !== undefined)
      return { expected: bare(expected), actual: bare(actual.replace(/^.*(?:Error|assert)(?: \[\w+\])?:? /, '')) }
  }
  return null
}

function bare(text: string): string {
  return text
    .trim()
    .replace(/,$/, '')
    .replace(/^`([\s\S]*)`$/, '$1')
}

function trimmed(lines: readonly string[]): string {
  return lines.join('\n').replace(/^\n+|\s+$/g, '')
}

/** Both texts as parts that are the same or of one alone, by words, or by lines where they are long. O(n × d) after Myers (1986). */
export function differingParts({ expected, actual }: ExpectedActual): DifferPart[] {
  const isLong = expected.length + actual.length > WORDS_MAX
  const parts = isLong ? diffLines(expected, actual) : diffWordsWithSpace(expected, actual)
  return parts.map(({ value, added, removed }) => ({
    text: value,
    kind: added ? 'actual' : removed ? 'expected' : 'same',
  }))
}
