/** Words that carry the sense of a requirement however short they are: what is demanded, of how much, when, and whether at all. */
const HEAVY = new Set(
  (
    'shall must should will may can cannot could would not no never none only unless except without all any each every some ' +
    'always least most more less than before after until within during while when if and or nor either neither above below ' +
    'between up down on off open closed'
  ).split(' '),
)
/** Words that may come and go without changing it. */
const LIGHT = new Set(['a', 'an', 'the'])
const WORD = /[\p{L}\p{N}_%°µ.]*[\p{L}\p{N}_%°µ]/gu
const SPELLING_FROM = 5

/** Whether only words without weight changed between two texts; else which words carry weight. */
export interface MinorChange {
  isMinor: boolean
  /** Those of the newer text, or of the older where they are gone. */
  heavy: string[]
}

/**
 * Whether a change of a text can be taken for one of spelling: case, punctuation, articles, and single
 * letters inside longer words (one edit, two from eight letters on, the same first letter). Anything with a
 * digit, a unit or a word that says what is demanded is none. By the longest common subsequence of the words
 * (Wagner and Fischer, 1974): O(n × m) words.
 */
export function minorChange(before: string, after: string): MinorChange {
  const [old, fresh] = [wordsOf(before), wordsOf(after)]
  const heavy: string[] = []
  for (const { gone, come } of gaps(old, fresh)) {
    const [left, right] = [gone.filter((word) => !LIGHT.has(word)), come.filter((word) => !LIGHT.has(word))]
    if (left.length === right.length && left.every((word, at) => isSpelling(word, right[at] ?? ''))) continue
    heavy.push(...(right.length > 0 ? right : left))
  }
  return { isMinor: heavy.length === 0, heavy }
}

function wordsOf(text: string): string[] {
  return [...text.matchAll(WORD)].map(([word]) => word.toLowerCase())
}

/** The runs of words that differ, from the table of common subsequences. */
function gaps(a: readonly string[], b: readonly string[]): { gone: string[]; come: string[] }[] {
  const width = b.length + 1
  const lengths = new Uint32Array((a.length + 1) * width)
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      lengths[i * width + j] =
        a[i] === b[j]
          ? at(lengths, (i + 1) * width + j + 1) + 1
          : Math.max(at(lengths, (i + 1) * width + j), at(lengths, i * width + j + 1))
  const found: { gone: string[]; come: string[] }[] = []
  let gap: { gone: string[]; come: string[] } | null = null
  for (let i = 0, j = 0; i < a.length || j < b.length; ) {
    if (i < a.length && j < b.length && a[i] === b[j]) {
      gap = null
      i++
      j++
      continue
    }
    if (gap === null) {
      gap = { gone: [], come: [] }
      found.push(gap)
    }
    if (j >= b.length || (i < a.length && at(lengths, (i + 1) * width + j) >= at(lengths, i * width + j + 1))) gap.gone.push(a[i++] ?? '')
    else gap.come.push(b[j++] ?? '')
  }
  return found
}

const at = (lengths: Uint32Array, place: number): number => lengths[place] ?? 0

function isSpelling(a: string, b: string): boolean {
  if (HEAVY.has(a) || HEAVY.has(b) || /\p{N}/u.test(a + b) || a[0] !== b[0]) return false
  const shorter = Math.min(a.length, b.length)
  return shorter >= SPELLING_FROM && edits(a, b) <= (shorter >= 8 ? 2 : 1)
}

/** How many letters have to be changed, put in or taken out (Levenshtein, 1966). */
function edits(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, index) => index)
  for (let i = 1; i <= a.length; i++) {
    const next = [i]
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min((row[j] ?? 0) + 1, (next[j - 1] ?? 0) + 1, (row[j - 1] ?? 0) + Number(a[i - 1] !== b[j - 1])))
    row = next
  }
  return row[b.length] ?? 0
}
