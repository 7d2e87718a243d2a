import { SEVERITY_LEVELS } from '#basics/severity-levels'
import { STAGES } from '#ladder/ladder'
import { ownFieldAt } from '#setup/own-field'
import { type FilterVocabulary, ITEM_VOCABULARY } from './filter.js'
import { COMPARISON } from './parse-filter.js'

/** One offer to go on with: what is shown and what is put into the text. */
export interface FilterCompletion {
  /** What takes the place of the text from `from` to `to`. */
  text: string
  kind: 'field' | 'flag' | 'type' | 'stage' | 'value' | 'joiner'
}
/** The offers at the cursor and the part of the text that they replace. */
export interface FilterCompletions {
  from: number
  to: number
  options: FilterCompletion[]
}
/** The values that a project knows, by field; fields without such a list give no values. */
export type KnownValues = Readonly<Record<string, readonly string[] | undefined>>

const SHOWN_MAX = 12
const AGES = ['1d', '7d', '2w', '30d']
const JOINERS = ['and', 'or', 'not']

/**
 * What could stand at the caret: fields, flags, types, stages and joiners at the beginning of a word, the field's values behind a
 * comparison. Cost: linear in the known values.
 */
export function completeFilter(
  text: string,
  caret: number,
  known: KnownValues,
  words: FilterVocabulary = ITEM_VOCABULARY,
): FilterCompletions {
  const start = wordStart(text, caret)
  const typed = text.slice(start, caret)
  const comparison = COMPARISON.exec(typed)
  if (comparison) {
    const field = (comparison[1] ?? '').toLowerCase()
    if (!Object.hasOwn(words.fields, field) && known[field] === undefined) return { from: start, to: caret, options: [] }
    const from = caret - (comparison[3] ?? '').length
    const begun = (comparison[3] ?? '').replace(/^"/, '')
    return { from, to: caret, options: best(valuesOf(words, field, known), begun, 'value', quoted) }
  }
  if (typed.startsWith('"')) return { from: start, to: caret, options: [] }
  return {
    from: start,
    to: caret,
    options: [
      ...best(words.flags, typed, 'flag'),
      ...best(bareOf(words, 'type'), typed, 'type'),
      ...best(bareOf(words, 'stage'), typed, 'stage'),
      ...best([...Object.keys(words.fields), ...ownPlacesIn(words, known)], typed, 'field', (field) => `${field}=`),
      ...best(typed === '' || start === 0 ? [] : JOINERS, typed, 'joiner'),
    ].slice(0, SHOWN_MAX),
  }
}

/** The project's own fields, which its known values name. */
function ownPlacesIn(words: FilterVocabulary, known: KnownValues): string[] {
  return words.hasOwnFields ? Object.keys(known).filter((name) => ownFieldAt(name) !== null) : []
}

/** Where the word under the caret begins: behind the last blank or bracket that no quotes enclose. */
function wordStart(text: string, caret: number): number {
  let start = 0
  let isQuoted = false
  for (let at = 0; at < caret; at++) {
    if (text[at] === '"') isQuoted = !isQuoted
    else if (!isQuoted && /[\s()]/.test(text[at] ?? '')) start = at + 1
  }
  return start
}

/** Words that stand for a comparison of one field. */
function bareOf(words: FilterVocabulary, field: string): string[] {
  return [...words.bare].filter(([, meant]) => meant.field === field).map(([word]) => word)
}

function valuesOf(words: FilterVocabulary, field: string, known: KnownValues): readonly string[] {
  switch (words.fields[field]) {
    case 'stage':
      return STAGES
    case 'level':
      return Object.keys(SEVERITY_LEVELS)
    case 'age':
      return AGES
    case 'person':
      return ['me', ...(known[field] ?? [])]
    default:
      return known[field] ?? (field === 'severity' ? ['1', '2', '3', '4', '5'] : [])
  }
}

function quoted(value: string): string {
  return /[\s()"]/.test(value) ? `"${value.replaceAll('"', '')}"` : value
}

/** Those that begin with what was typed, then those that hold it. */
function best(
  values: readonly string[],
  typed: string,
  kind: FilterCompletion['kind'],
  print: (value: string) => string = (value) => value,
): FilterCompletion[] {
  const wanted = typed.toLowerCase()
  const starting = values.filter((value) => value.toLowerCase().startsWith(wanted) && value.toLowerCase() !== wanted)
  const holding =
    wanted.length < 2
      ? []
      : values.filter((value) => !starting.includes(value) && value.toLowerCase().includes(wanted) && value.toLowerCase() !== wanted)
  return [...starting, ...holding].slice(0, SHOWN_MAX).map((value) => ({ text: print(value), kind }))
}
