import type { Filter } from './filter.js'
import { parseFilter } from './parse-filter.js'

/**
 * The words that a filter looks for in texts; those that it leaves out by "not" are none of them, and a filter that is not understood has
 * none.
 */
export function filterWords(text: string): string[] {
  const parsed = parseFilter(text)
  return 'error' in parsed ? [] : wordsIn(parsed.filter)
}

function wordsIn(filter: Filter): string[] {
  if (filter.kind === 'words') return [filter.text]
  return filter.kind === 'and' || filter.kind === 'or' ? filter.parts.flatMap(wordsIn) : []
}
