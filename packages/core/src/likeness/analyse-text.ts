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
/** Words that carry no subject (function words of English, and verbs that stand for any other); rare-word weights do the rest. */
const STOP = new Set(
  (
    `a about above across after again against ain all almost along already also although always am among an and another any ` +
    `anybody anyone anything are aren around as at away back be because been before behind below beneath beside between ` +
    `beyond both but by came can cannot come comes coming could couldn d did didn do does doesn doing don done down ` +
    `during each either else enough even ever every everybody everyone everything for from further get gets getting go ` +
    `goes going gone got gotten had hadn happen happened happening happens has hasn have haven having he her here ` +
    `hers herself him himself his how however i if in indeed inside instead into is isn it its itself just kept ` +
    `kind let lets like ll lot m made make makes making many may maybe me might mine more most much must my ` +
    `myself near neither never next no nobody none nor not nothing now of off often on once only onto or other ` +
    `others our ours ourselves out outside over own per perhaps put puts putting quite rather re really s ` +
    `said same say says seem seemed seems several shall she should shouldn since so some somebody someone ` +
    `something sometimes somewhere soon still such t take taken takes taking than that the their theirs ` +
    `them themselves then there these they thing things this those though through throughout thus till ` +
    `to together too took toward towards turn turned turns under unless until up upon us use used ` +
    `uses using ve very via want wanted wants was wasn way we well went were weren what whatever ` +
    `when whenever where wherever whether which while who whoever whole whom whose why will with ` +
    `within without won would wouldn yet you your yours yourself`
  ).split(' '),
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
