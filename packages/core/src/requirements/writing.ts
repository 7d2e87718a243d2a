import { groupBy } from '#basics/group-by'

/** What may be wrong with how a requirement is written. */
export const WRITING_CODES = [
  'vague',
  'unbounded',
  'no-unit',
  'several',
  'passive',
  'open-list',
  'unexplained',
  'contradiction',
  'other-word',
  'undefined-term',
] as const
/** One of them. */
export type WritingCode = (typeof WRITING_CODES)[number]
/** A place in a text that a reader could take in two ways, or that no test could decide. */
export interface WritingFinding {
  code: WritingCode
  /** The words that it is about, as they stand. */
  words: string
  /** Where they begin in the text. */
  at: number
  /** Of a contradiction the other requirement, of another word the one that is meant. */
  other: string | null
}

/** Words that each reader understands as they like. */
const VAGUE = new RegExp(
  String.raw`\b(?:as appropriate|if (?:possible|necessary|required|needed)|where (?:possible|appropriate|necessary)|` +
    `as (?:needed|required|far as possible)|adequate(?:ly)?|sufficient(?:ly)?|suitabl[ey]|reasonabl[ey]|` +
    `appropriate(?:ly)?|user[- ]friendly|easy|easily|simple|simply|intuitive(?:ly)?|robust|flexible|` +
    `efficient(?:ly)?|effective(?:ly)?|optimal(?:ly)?|normal(?:ly)?|usual(?:ly)?|typical(?:ly)?|generally|` +
    `state[- ]of[- ]the[- ]art|seamless(?:ly)?|good|bad|nice|proper(?:ly)?|acceptable|comfortabl[ey]|` +
    `minimi[sz]e[ds]?|maximi[sz]e[ds]?|some|several|many|few|various|certain|better|best|worse|significant(?:ly)?|` +
    String.raw`realistic|comprehensible)\b`,
  'gi',
)
/** Qualities that need a number before a test can decide them. */
const UNBOUNDED = new RegExp(
  String.raw`\b(?:quick(?:ly)?|fast(?:er)?|slow(?:ly)?|immediate(?:ly)?|instant(?:ly)?|prompt(?:ly)?|soon(?! as)|timely|` +
    `in time|as (?:soon|fast|quickly) as possible|rapid(?:ly)?|real[- ]time|short(?:ly)?|long|large|small|high|low|` +
    `often|frequent(?:ly)?|regular(?:ly)?|accurate(?:ly)?|precise(?:ly)?|reliabl[ey]|scalable|secure(?:ly)?|` +
    String.raw`available)\b`,
  'gi',
)
const OPEN_LIST =
  /\b(?:etc\b\.?|and so on|and so forth|and the like|or the like|including but not limited to|among others|e\.g\.)|…|\.\.\.(?=\s|$)/gi
const MODAL = /\b(?:shall|must)\b/gi
/** A limit, and the number that it sets; what stands behind decides whether it has a unit. */
const LIMIT = new RegExp(
  String.raw`\b(?:within|at (?:most|least)|(?:less|more|fewer|longer|shorter|higher|lower|greater) than|up to|under|over|` +
    String.raw`below|above|exceeds?|no (?:more|less) than|every|after)\s+(\d+(?:[.,]\d+)*)([^\n]{0,24})`,
  'gi',
)
/** Behind a number these say that no unit comes: the sentence goes on. */
const NO_UNIT =
  /^\s*(?:$|[.,;:)]|(?:and|or|when|if|while|unless|the|a|an|in|on|at|for|of|after|before|during|once|that|which|by|as|is|are|shall)\b)/i
const PASSIVE = new RegExp(
  String.raw`\b(?:shall|must|can|may|will)\s+(?:not\s+|never\s+|always\s+|only\s+)?be\s+(?:\w+ly\s+)?(\w+(?:ed|en|own|ept|` +
    String.raw`old|ade|ent|aid|one|un|ut|ead|ound|ought|aught|et))\b`,
  'gi',
)
/** Ends like a participle and is none. */
const NO_PARTICIPLE = new RegExp(
  `^(?:open|then|often|even|silent|present|different|independent|absent|consistent|equivalent|transparent|sudden|` +
    `broken|wooden|without|out|ahead|instead|dead|red|alone|none|about|set)$`,
  'i',
)
const ACRONYM = /\b[A-Z]{2,6}\b/g
/** Units, sides of the compass and words that everybody reads. */
const KNOWN_ACRONYM = new RegExp(
  `^(?:OK|ID|IDS|PDF|CSV|XML|JSON|HTML|HTTP|HTTPS|URL|UTC|GMT|USB|LED|PIN|SMS|API|AM|PM|EU|UK|USA|ISO|IEC|CPU|RAM|` +
    `MHZ|KHZ|GHZ|KB|MB|GB|TB|KWH|DC|AC|NOT|AND|OR|IF)$`,
)

const RULES: readonly [WritingCode, RegExp, (match: RegExpExecArray, sentence: string) => boolean][] = [
  ['vague', VAGUE, () => true],
  // A number bounds it; that of a key does not.
  ['unbounded', UNBOUNDED, (_, sentence) => !/\d/.test(sentence.replace(/\b[A-Z][A-Z0-9]*-\d+/g, ''))],
  ['no-unit', LIMIT, (match) => NO_UNIT.test(match[2] ?? '')],
  ['open-list', OPEN_LIST, () => true],
  [
    'passive',
    PASSIVE,
    (match, sentence) => !NO_PARTICIPLE.test(match[1] ?? '') && !/\bby (?:the|a|an|its|their|somebody|anybody|[A-Z])/.test(sentence),
  ],
]

/**
 * What may be wrong with how a text is written, in the order of the text, each with the rule that says so: after the rules for well-formed
 * requirements of ISO/IEC/IEEE 29148:2018 (5.2.5 to 5.2.7), as far as words show it. `explained` are
 * acronyms that the document explains. Linear in the text.
 */
export function findWriting(text: string, explained: ReadonlySet<string> = new Set()): WritingFinding[] {
  const findings: WritingFinding[] = []
  const add = (code: WritingCode, words: string, at: number) => void findings.push({ code, words: words.trim(), at, other: null })
  const modals = [...text.matchAll(MODAL)]
  const second = modals[1]
  if (second) add('several', second[0], second.index)
  for (const { sentence, from } of sentencesOf(text))
    for (const [code, pattern, fits] of RULES)
      for (const match of sentence.matchAll(pattern)) {
        if (!fits(match, sentence)) continue
        const words = code === 'no-unit' ? match[0].slice(0, match[0].length - (match[2]?.length ?? 0)) : match[0]
        add(code, words, from + match.index)
      }
  const told = new Set<string>()
  for (const match of text.matchAll(ACRONYM)) {
    const [word] = match
    // A key such as SAF-3 names a requirement.
    if (KNOWN_ACRONYM.test(word) || explained.has(word) || told.has(word) || /^-\d/.test(text.slice(match.index + word.length))) continue
    told.add(word)
    add('unexplained', word, match.index)
  }
  return findings.sort((a, b) => a.at - b.at || a.code.localeCompare(b.code))
}

function sentencesOf(text: string): { sentence: string; from: number }[] {
  return [...text.matchAll(/[^.;\n]+(?:\.(?!\s|$)[^.;\n]*)*[.;]?/g)].map((match) => ({ sentence: match[0], from: match.index }))
}

/**
 * The acronyms that some text of a document explains, in brackets on either side: `thermal cut-out
 * (TCO)`, `TCO (thermal cut-out)`. O(text).
 */
export function explainedIn(texts: readonly string[]): Set<string> {
  const explained = new Set<string>()
  for (const text of texts) {
    for (const match of text.matchAll(/\(([A-Z]{2,6})\)/g)) if (match[1]) explained.add(match[1])
    for (const match of text.matchAll(/\b([A-Z]{2,6}) \([a-z][^)]+\)/g)) if (match[1]) explained.add(match[1])
  }
  return explained
}

const STOP = new Set(
  (
    'the a an of to in on at for and or shall must be is are it its that which with by as any all each not no than from ' +
    'within once after before when while if least most more less up down under over below above'
  ).split(' '),
)
const QUANTITY = /(\d+(?:[.,]\d+)*)\s*(°?[A-Za-z%]{1,12}|%)/g
/** So much of their words two requirements share before their numbers are held against each other. */
const SHARED_MIN = 0.6

interface Said {
  key: string
  words: Set<string>
  quantities: { value: string; unit: string; words: string; at: number }[]
}

/**
 * Requirements that say nearly the same with another number of the same unit: each is told once for each
 * side. Pairs are found by their rarest words, so that the cost follows the number of texts that share a rare word, not all pairs.
 */
export function findContradictions(rows: readonly { key: string; text: string }[]): Map<string, WritingFinding[]> {
  const said = rows
    .map(({ key, text }): Said => ({ key, words: wordsOf(text), quantities: quantitiesOf(text) }))
    .filter(({ quantities }) => quantities.length > 0)
  const byWord = groupBy(
    said.flatMap((one) => [...one.words].map((word) => ({ word, one }))),
    ({ word }) => word,
  )
  const found = new Map<string, WritingFinding[]>()
  for (const one of said) {
    const rarest = [...one.words].sort((a, b) => (byWord.get(a)?.length ?? 0) - (byWord.get(b)?.length ?? 0)).slice(0, 4)
    const others = new Set(rarest.flatMap((word) => (byWord.get(word) ?? []).map(({ one: other }) => other)))
    for (const other of others) {
      if (other === one || shared(one.words, other.words) < SHARED_MIN) continue
      const clash = one.quantities.find(
        ({ value, unit }) =>
          other.quantities.some((theirs) => theirs.unit === unit) &&
          !other.quantities.some((theirs) => theirs.unit === unit && theirs.value === value),
      )
      if (!clash) continue
      found.set(one.key, [...(found.get(one.key) ?? []), { code: 'contradiction', words: clash.words, at: clash.at, other: other.key }])
    }
  }
  return found
}

function wordsOf(text: string): Set<string> {
  return new Set(
    [...text.toLowerCase().matchAll(/[a-zà-ÿ][a-zà-ÿ'-]+/g)].map(([word]) => word).filter((word) => word.length > 2 && !STOP.has(word)),
  )
}

function quantitiesOf(text: string): Said['quantities'] {
  return [...text.matchAll(QUANTITY)].map((match) => ({
    value: match[1] ?? '',
    unit: (match[2] ?? '').toLowerCase(),
    words: match[0],
    at: match.index,
  }))
}

/** Shared words by all of both (Jaccard). */
function shared(one: ReadonlySet<string>, other: ReadonlySet<string>): number {
  const both = [...one].filter((word) => other.has(word)).length
  return both / Math.max(1, one.size + other.size - both)
}
