import { assertNever } from '#basics/assert-never'
import type { Filter } from './filter.js'

/** The filter as text that parses back to the same filter. */
export function printFilter(filter: Filter<string, string>): string {
  switch (filter.kind) {
    case 'all':
      return ''
    case 'and':
      return filter.parts.map(printOperand).join(' ')
    case 'or':
      return filter.parts.map(printOperand).join(' or ')
    case 'not':
      return `not ${printOperand(filter.part)}`
    case 'flag':
      return filter.flag
    case 'compare':
      return `${filter.field}${filter.comparison}${/[\s()]/.test(filter.value) ? `"${filter.value}"` : filter.value}`
    case 'words':
      return filter.isPhrase ? `"${filter.text}"` : filter.text
    default:
      return assertNever(filter)
  }
}

function printOperand(filter: Filter<string, string>): string {
  return filter.kind === 'and' || filter.kind === 'or' ? `(${printFilter(filter)})` : printFilter(filter)
}
