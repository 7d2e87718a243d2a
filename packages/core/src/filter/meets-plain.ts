import { assertNever } from '#basics/assert-never'
import { holds, same, stands } from './compare-values.js'
import type { Filter, FilterVocabulary } from './filter.js'

/** What a condition is asked about: a value for each field, the flags that are true, and the text in which bare words are sought. */
export interface PlainFacts<Field extends string, Flag extends string> {
  values: Readonly<Record<Field, string | number | null>>
  flags: ReadonlySet<Flag>
  text: string
}

/**
 * Whether something meets a condition of fields that are words, texts or numbers, by the kinds of its vocabulary. What a field does not say
 * (null) meets no comparison but `!=`. Linear in the condition and the texts; no pattern can take longer.
 */
export function meetsPlain<Field extends string, Flag extends string>(
  filter: Filter<Field, Flag>,
  facts: PlainFacts<Field, Flag>,
  vocabulary: FilterVocabulary<Field, Flag>,
): boolean {
  switch (filter.kind) {
    case 'all':
      return true
    case 'and':
      return filter.parts.every((part) => meetsPlain(part, facts, vocabulary))
    case 'or':
      return filter.parts.some((part) => meetsPlain(part, facts, vocabulary))
    case 'not':
      return !meetsPlain(filter.part, facts, vocabulary)
    case 'words':
      return holds(facts.text, filter.text)
    case 'flag':
      return facts.flags.has(filter.flag)
    case 'compare': {
      const { field, comparison, value } = filter
      const known = facts.values[field]
      if (known === null) return comparison === '!='
      if (typeof known === 'number') return stands(known - Number(value), comparison, Number.MIN_VALUE)
      const isText = (vocabulary.fields as Readonly<Record<string, string>>)[field] === 'text'
      return (isText ? holds(known, value) : same(known, value)) !== (comparison === '!=')
    }
    default:
      return assertNever(filter)
  }
}
