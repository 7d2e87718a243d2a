import { SEVERITY_LEVELS } from '#basics/severity-levels'
import { STAGES } from '#ladder/ladder'
import { zOwnPlace } from '#setup/own-field'
import {
  type Comparison,
  type FieldKind,
  type Filter,
  type FilterError,
  type FilterField,
  type FilterFlag,
  type FilterVocabulary,
  ITEM_VOCABULARY,
} from './filter.js'

interface Token {
  kind: 'word' | 'quoted' | 'open' | 'close'
  text: string
  from: number
  to: number
}
/** The tree, or the first mistake with its place. */
export type ParsedFilter<Field extends string = FilterField, Flag extends string = FilterFlag> =
  | { filter: Filter<Field, Flag> }
  | { error: FilterError }

/**
 * Reads a filter such as `open defect severity<=2 (owner=ines or mine) not label=docs "relay"`. Terms side by side are joined by "and",
 * which binds tighter
 * than "or". An empty text matches all. Linear in the text, except that brackets nest by recursion (at most 50 deep).
 */
export function parseFilter(text: string): ParsedFilter {
  return parseFilterBy(ITEM_VOCABULARY, text)
}

/** Reads a filter of things of another kind, in the same grammar with their own fields and flags. */
export function parseFilterBy<Field extends string, Flag extends string>(
  words: FilterVocabulary<Field, Flag>,
  text: string,
): ParsedFilter<Field, Flag> {
  try {
    const tokens = tokenise(text)
    if (tokens.length === 0) return { filter: { kind: 'all' } }
    const cursor: Cursor = { tokens, at: 0, depth: 0, words }
    // The tree names nothing but what the vocabulary has: see parseTerm and parseComparison.
    const filter = parseOr(cursor) as Filter<Field, Flag>
    const rest = tokens[cursor.at]
    if (rest) throw new Refusal(errorAt('unexpected', rest))
    return { filter }
  } catch (refusal) {
    if (refusal instanceof Refusal) return { error: refusal.error }
    throw refusal
  }
}

class Refusal extends Error {
  constructor(readonly error: FilterError) {
    super(error.code)
  }
}

interface Cursor {
  tokens: Token[]
  at: number
  depth: number
  words: FilterVocabulary
}
type AnyFilter = Filter<string, string>

function tokenise(text: string): Token[] {
  const tokens: Token[] = []
  let at = 0
  while (at < text.length) {
    const char = text[at] ?? ''
    if (/\s/.test(char)) {
      at++
      continue
    }
    if (char === '(' || char === ')') {
      tokens.push({ kind: char === '(' ? 'open' : 'close', text: char, from: at, to: ++at })
      continue
    }
    const start = at
    let isQuoted = false
    while (at < text.length && !/[\s()]/.test(text[at] ?? '')) {
      if (text[at] !== '"') {
        at++
        continue
      }
      const close = text.indexOf('"', at + 1)
      if (close < 0) throw new Refusal({ code: 'unclosed-quote', from: at, to: text.length, word: text.slice(at) })
      isQuoted = at === start
      at = close + 1
    }
    tokens.push({ kind: isQuoted ? 'quoted' : 'word', text: text.slice(start, at).replaceAll('"', ''), from: start, to: at })
  }
  return tokens
}

function parseOr(cursor: Cursor): AnyFilter {
  const parts = [parseAnd(cursor)]
  while (isWord(cursor, 'or')) {
    cursor.at++
    parts.push(parseAnd(cursor))
  }
  return parts.length === 1 ? (parts[0] as AnyFilter) : { kind: 'or', parts }
}

function parseAnd(cursor: Cursor): AnyFilter {
  const parts: AnyFilter[] = []
  for (;;) {
    if (isWord(cursor, 'and')) {
      cursor.at++
      continue
    }
    const token = cursor.tokens[cursor.at]
    if (!token || token.kind === 'close' || isWord(cursor, 'or')) break
    parts.push(parseTerm(cursor, token))
  }
  if (parts.length === 0) {
    const token = cursor.tokens[cursor.at] ?? cursor.tokens.at(-1)
    throw new Refusal(token ? errorAt('unexpected', token) : { code: 'unexpected', from: 0, to: 0, word: '' })
  }
  return parts.length === 1 ? (parts[0] as AnyFilter) : { kind: 'and', parts }
}

function parseTerm(cursor: Cursor, token: Token): AnyFilter {
  cursor.at++
  if (token.kind === 'quoted') return { kind: 'words', text: token.text, isPhrase: true }
  if (token.kind === 'open') {
    if (++cursor.depth > 50) throw new Refusal(errorAt('unexpected', token))
    const inner = parseOr(cursor)
    if (cursor.tokens[cursor.at]?.kind !== 'close') throw new Refusal(errorAt('unclosed-bracket', token))
    cursor.at++
    cursor.depth--
    return inner
  }
  const word = token.text.toLowerCase()
  if (word === 'not') {
    const next = cursor.tokens[cursor.at]
    if (!next || next.kind === 'close') throw new Refusal(errorAt('unexpected', token))
    return { kind: 'not', part: parseTerm(cursor, next) }
  }
  if (cursor.words.flags.includes(word)) return { kind: 'flag', flag: word }
  const bare = cursor.words.bare.get(word)
  if (bare) return { kind: 'compare', comparison: '=', ...bare }
  const comparison = COMPARISON.exec(token.text)
  if (comparison) return parseComparison(cursor.words, token, comparison)
  return { kind: 'words', text: token.text, isPhrase: false }
}

/** A field, how it compares, and with what; an own field has its id behind a dot. */
export const COMPARISON = /^([a-z]+|own\.[a-z][a-z0-9-]*)(!=|<=|>=|=|<|>)(.*)$/is

function parseComparison(words: FilterVocabulary, token: Token, match: RegExpExecArray): AnyFilter {
  const field = (match[1] ?? '').toLowerCase()
  const isOwn = words.hasOwnFields === true && zOwnPlace.safeParse(field).success
  if (!isOwn && !Object.hasOwn(words.fields, field))
    throw new Refusal({ code: 'unknown-field', from: token.from, to: token.from + field.length, word: match[1] ?? '' })
  const value = match[3] ?? ''
  if (value === '') throw new Refusal(errorAt('missing-value', token))
  if (!isOwn && !isValue(words.fields[field], value)) throw new Refusal({ ...errorAt('wrong-value', token), word: value })
  return { kind: 'compare', field, comparison: match[2] as Comparison, value }
}

function isValue(kind: FieldKind | undefined, value: string): boolean {
  if (kind === 'number') return /^\d{1,6}$/.test(value)
  if (kind === 'age') return /^\d{1,4}[hdw]$|^\d{4}-\d{2}-\d{2}$/.test(value)
  if (kind === 'stage') return STAGES.some((stage) => stage === value.toLowerCase())
  if (kind === 'level') return Object.hasOwn(SEVERITY_LEVELS, value.toLowerCase())
  if (kind === 'version') return /^[\w.+-]{1,100}$/.test(value)
  return true
}

function isWord(cursor: Cursor, word: string): boolean {
  const token = cursor.tokens[cursor.at]
  return token?.kind === 'word' && token.text.toLowerCase() === word
}

function errorAt(code: FilterError['code'], token: Token): FilterError {
  return { code, from: token.from, to: token.to, word: token.text }
}
