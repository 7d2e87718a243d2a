import { stemmer } from 'stemmer'

/** One word of a text as it is compared. */
export interface Token {
  /** Porter stem of the word, or the piece of code as it stands. */
  stem: string
  /** The word in lower case, for its vector. */
  word: string
  weight: number
}

const WORD = /[\p{L}][\p{L}\p{N}'’]*|\p{N}+(?:[.,:]\p{N}+)*/gu
/** Words that carry no subject; short on purpose, since rare-word weights do the rest. */
const STOP = new Set(
  `a an and are as at be been but by can did do does for from had has have he her here him his how i if in into is it its just me my no not of on or our out she so some than that the their them then there they this to too up us was we were what when where which while who will with would you your isn don doesn didn wasn won couldn t s ll ve re`.split(
    ' ',
  ),
)
const TOKENS_MAX = 400
const PARTS_MAX = 12

/**
 * The words of a title and a text: prose is split into words and stemmed (Porter 1980); names in code (`onAddRow`, `scale_recipe`) count as
 * a whole and by their parts.
 * A word of the title weighs `titleWeight`. Linear in the text; at most 400 words are kept.
 */
export function analyseText({ title, text }: { title: string; text: string }, titleWeight = 2): Token[] {
  const tokens: Token[] = []
  read(title, titleWeight, tokens)
  read(text, 1, tokens)
  return tokens
}

function read(text: string, weight: number, into: Token[]): void {
  for (const [found] of text.matchAll(WORD)) {
    if (into.length >= TOKENS_MAX) return
    const parts = found.replace(/['’]s?$/, '').split(/(?<=[\p{Ll}\p{N}])(?=\p{Lu})/u)
    if (parts.length > 1) push(found, weight, into)
    for (const part of parts.slice(0, PARTS_MAX)) push(part, parts.length > 1 ? weight * 0.7 : weight, into)
  }
}

function push(raw: string, weight: number, into: Token[]): void {
  const word = raw.toLowerCase()
  if (STOP.has(word) || (word.length < 2 && !/\p{N}/u.test(word))) return
  into.push({ stem: /^[a-z]+$/.test(word) ? stemmer(word) : word, word, weight })
}
