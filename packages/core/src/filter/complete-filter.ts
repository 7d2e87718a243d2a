import { STAGES } from '#ladder/ladder'
import { FILTER_FIELDS, FILTER_FLAGS, type FilterField } from './filter.js'
import { ITEM_TYPES } from '#setup/item-type'

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
export type KnownValues = Partial<Record<FilterField, readonly string[]>>

const SHOWN_MAX = 12
const AGES = ['1d', '7d', '2w', '30d']
const JOINERS = ['and', 'or', 'not']

/**
 * What could stand at the caret: fields, flags, types, stages and joiners at the beginning of a word, the field's values behind a
 * comparison. Cost: linear in the known values.
 */
export function completeFilter(text: string, caret: number, known: KnownValues): FilterCompletions {
  const start = wordStart(text, caret)
  const typed = text.slice(start, caret)
  const comparison = /^([a-z]+)(!=|<=|>=|=|<|>)(.*)$/is.exec(typed)
  if (comparison) {
    const field = (comparison[1] ?? '').toLowerCase()
    if (!(field in FILTER_FIELDS)) return { from: start, to: caret, options: [] }
    const from = caret - (comparison[3] ?? '').length
    const begun = (comparison[3] ?? '').replace(/^"/, '')
    return { from, to: caret, options: best(valuesOf(field as FilterField, known), begun, 'value', quoted) }
  }
  if (typed.startsWith('"')) return { from: start, to: caret, options: [] }
  return {
    from: start,
    to: caret,
    options: [
      ...best(FILTER_FLAGS, typed, 'flag'),
      ...best(ITEM_TYPES, typed, 'type'),
      ...best(STAGES, typed, 'stage'),
      ...best(Object.keys(FILTER_FIELDS), typed, 'field', (field) => `${field}=`),
      ...best(typed === '' || start === 0 ? [] : JOINERS, typed, 'joiner'),
    ].slice(0, SHOWN_MAX),
  }
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

function valuesOf(field: FilterField, known: KnownValues): readonly string[] {
  switch (FILTER_FIELDS[field]) {
    case 'stage':
      return STAGES
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
