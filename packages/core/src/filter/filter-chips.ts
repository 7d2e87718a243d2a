import { type Filter, type FilterVocabulary, ITEM_VOCABULARY } from './filter.js'
import { parseFilterBy } from './parse-filter.js'
import { printFilter } from './print-filter.js'

/** One condition of a filter that can be clicked away, with the filter that is left without it. */
export interface FilterChip {
  text: string
  without: string
}

/** The conditions that a filter joins by "and", each as text; none for a filter that is not understood. */
export function filterChips(text: string, words: FilterVocabulary = ITEM_VOCABULARY): FilterChip[] {
  const parsed = parseFilterBy(words, text)
  if ('error' in parsed || parsed.filter.kind === 'all') return []
  const parts = parsed.filter.kind === 'and' ? parsed.filter.parts : [parsed.filter]
  return parts.map((part, index) => ({
    text: printFilter(part),
    without: printFilter(join(parts.filter((_, other) => other !== index))),
  }))
}

/** A filter with one more condition; where it stood already, the same. */
export function withCondition(text: string, condition: string): string {
  return filterChips(text).some((chip) => chip.text === condition) ? text : `${text.trim()} ${condition}`.trim()
}

function join(parts: Filter<string, string>[]): Filter<string, string> {
  if (parts.length === 0) return { kind: 'all' }
  return parts.length === 1 ? (parts[0] as Filter<string, string>) : { kind: 'and', parts }
}
