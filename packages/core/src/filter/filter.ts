import { STAGES } from '#ladder/ladder'
import { FILTERED_LINES, type FilteredLine } from '#setup/item-fields'
import { ITEM_TYPES } from '#setup/item-type'
import type { OwnPlace } from '#setup/own-field'

/** What can be compared, and how its values are read; typed lines among the declared fields of an item are words. */
export const FILTER_FIELDS = {
  type: 'word',
  priority: 'word',
  project: 'word',
  due: 'day',
  stage: 'stage',
  severity: 'number',
  points: 'number',
  owner: 'person',
  reporter: 'person',
  component: 'word',
  label: 'word',
  requirement: 'key',
  fault: 'key',
  key: 'key',
  updated: 'age',
  created: 'age',
  ...(Object.fromEntries(FILTERED_LINES.map((word) => [word, 'word'])) as Record<FilteredLine, 'word'>),
} as const
/** A field that a condition can name; a project's own field as `own.zone`. */
export type FilterField = keyof typeof FILTER_FIELDS | OwnPlace
/** What can be asked with `is:`; each is true or false of an item. */
export const FILTER_FLAGS = [
  'open',
  'settled',
  'rejected',
  'mine',
  'unowned',
  'drift',
  'back',
  'blocked',
  'overdue',
  'followed',
  'archived',
] as const
/** A word after `is:`. */
export type FilterFlag = (typeof FILTER_FLAGS)[number]
/** How a condition compares. */
export type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>='
/** How the values of a field are read. */
export type FieldKind = 'word' | 'day' | 'stage' | 'number' | 'person' | 'key' | 'age' | 'text' | 'version' | 'level'
/**
 * What conditions can name when they are about one kind of thing: its fields, the words that are true or false of it alone, and words that
 * stand for a whole comparison.
 */
export interface FilterVocabulary<Field extends string = string, Flag extends string = string> {
  fields: Readonly<Record<Exclude<Field, OwnPlace>, FieldKind>>
  /** Whether conditions can name own fields of projects, too. */
  hasOwnFields?: true
  flags: readonly Flag[]
  bare: ReadonlyMap<string, { field: Field; value: string }>
}
/** A filter as a tree: conditions joined by and, or, not. */
export type Filter<Field extends string = FilterField, Flag extends string = FilterFlag> =
  | { kind: 'all' }
  | { kind: 'and' | 'or'; parts: Filter<Field, Flag>[] }
  | { kind: 'not'; part: Filter<Field, Flag> }
  | { kind: 'flag'; flag: Flag }
  | { kind: 'compare'; field: Field; comparison: Comparison; value: string }
  | { kind: 'words'; text: string; isPhrase: boolean }
/** Where the text stops making sense: half-open character range. */
export interface FilterError {
  code: 'unknown-field' | 'missing-value' | 'unclosed-bracket' | 'unclosed-quote' | 'unexpected' | 'wrong-value'
  from: number
  to: number
  word: string
}

/** What filters of items can say. */
export const ITEM_VOCABULARY: FilterVocabulary<FilterField, FilterFlag> = {
  fields: FILTER_FIELDS,
  hasOwnFields: true,
  flags: FILTER_FLAGS,
  bare: new Map<string, { field: FilterField; value: string }>([
    ...STAGES.map((stage) => [stage, { field: 'stage', value: stage }] as const),
    ...ITEM_TYPES.map((type) => [type, { field: 'type', value: type }] as const),
  ]),
}
