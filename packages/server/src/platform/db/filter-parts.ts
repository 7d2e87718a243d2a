import { assertNever } from '@dystracer/core/basics/assert-never'
import { Problem } from '@dystracer/core/basics/problem'
import type { Comparison, Filter } from '@dystracer/core/filter/filter'
import type { ParsedFilter } from '@dystracer/core/filter/parse-filter'

/** The comparison operators as SQL; nothing of the filter's own text ever becomes SQL. */
export const SQL_OPERATOR: Record<Comparison, string> = { '=': 'IS', '!=': 'IS NOT', '<': '<', '<=': '<=', '>': '>', '>=': '>=' }
const AGE_MS: Record<string, number> = { h: 3_600_000, d: 86_400_000, w: 604_800_000 }

/** Gives a value a name of its own in the statement, and that name with its at sign. */
export type Bound = (value: string | number) => string

/** A condition of a filter that compares a field with a value. */
export type Compared<Field extends string> = { field: Field; comparison: Comparison; value: string }

/** `updated<7d` asks for a smaller age, that is a later time; a day is compared as it stands. */
export function compareAge(
  column: string,
  { comparison, value }: { comparison: Comparison; value: string },
  bound: Bound,
  nowMs: number,
): string {
  const unit = AGE_MS[value.at(-1) ?? '']
  if (!unit) return `${column} ${SQL_OPERATOR[comparison]} ${bound(Date.parse(`${value}T00:00:00Z`))}`
  const turned = { '<': '>', '<=': '>=', '>': '<', '>=': '<=' }[comparison as string] ?? SQL_OPERATOR[comparison]
  return `${column} ${turned} ${bound(nowMs - Number.parseInt(value, 10) * unit)}`
}

/** A text for LIKE that finds it anywhere, with `\` as the escape. */
export function likeAnywhere(text: string): string {
  return `%${escapeLike(text)}%`
}

/** A text for LIKE that means nothing but itself, with `\` as the escape. */
export function escapeLike(text: string): string {
  return text.replace(/[\\%_]/g, '\\$&')
}

/** Whether a column holds a text anywhere, or (`!=`) does not. */
export function contains(column: string, { comparison, value }: { comparison: string; value: string }, bound: Bound): string {
  return `${column} ${comparison === '!=' ? 'NOT LIKE' : 'LIKE'} ${bound(likeAnywhere(value))} ESCAPE '\\'`
}

/** How the conditions of one kind of thing are said in SQL, from a closed catalogue of fragments. */
export interface FilterDialect<Field extends string, Flag extends string> {
  flags: Record<Flag, string>
  compare: (part: Compared<Field>, bound: Bound) => string
  words: (text: string, bound: Bound) => string
}

/** A filter as an SQL condition; all values are bound, by names that begin with `f`. */
export function filterAsSql<Field extends string, Flag extends string>(
  filter: Filter<Field, Flag>,
  dialect: FilterDialect<Field, Flag>,
): { where: string; bind: Record<string, string | number> } {
  const bind: Record<string, string | number> = {}
  let count = 0
  const bound: Bound = (value) => {
    const name = `f${count++}`
    bind[name] = value
    return `@${name}`
  }
  const where = (part: Filter<Field, Flag>): string => {
    switch (part.kind) {
      case 'all':
        return '1'
      case 'and':
        return `(${part.parts.map(where).join(' AND ')})`
      case 'or':
        return `(${part.parts.map(where).join(' OR ')})`
      case 'not':
        return `NOT coalesce(${where(part.part)}, 0)`
      case 'flag':
        return dialect.flags[part.flag]
      case 'words':
        return dialect.words(part.text, bound)
      case 'compare':
        return dialect.compare(part, bound)
      default:
        return assertNever(part)
    }
  }
  return { where: where(filter), bind }
}

/** The filter that was read. Throws `filter-not-understood` with the place in the text. */
export function understood<Field extends string, Flag extends string>(parsed: ParsedFilter<Field, Flag>): Filter<Field, Flag> {
  if ('filter' in parsed) return parsed.filter
  throw new Problem('filter-not-understood', {
    detail: `"${parsed.error.word}" was not understood (${parsed.error.code}).`,
    facts: { ...parsed.error },
  })
}
