import { FILTERED_LINES, type FilteredLine } from '#setup/item-fields'

/** What can be compared, and how its values are read; typed lines among the declared fields of an item are words. */
export const FILTER_FIELDS = {
  type: 'word',
  priority: 'word',
  project: 'word',
  due: 'day',
  stage: 'stage',
  severity: 'number',
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
/** A field that a condition can name. */
export type FilterField = keyof typeof FILTER_FIELDS
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
/** A filter as a tree: conditions joined by and, or, not. */
export type Filter =
  | { kind: 'all' }
  | { kind: 'and' | 'or'; parts: Filter[] }
  | { kind: 'not'; part: Filter }
  | { kind: 'flag'; flag: FilterFlag }
  | { kind: 'compare'; field: FilterField; comparison: Comparison; value: string }
  | { kind: 'words'; text: string; isPhrase: boolean }
/** Where the text stops making sense: half-open character range. */
export interface FilterError {
  code: 'unknown-field' | 'missing-value' | 'unclosed-bracket' | 'unclosed-quote' | 'unexpected' | 'wrong-value'
  from: number
  to: number
  word: string
}
