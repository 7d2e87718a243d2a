import { dayIn } from '@dystracer/core/basics/days'
import { assertNever } from '@dystracer/core/basics/assert-never'
import { FIELD_BY_FILTER_WORD, ITEM_FIELDS } from '@dystracer/core/setup/item-fields'
import { ownFieldAt } from '@dystracer/core/setup/own-field'
import type { Filter, FilterField, FilterFlag } from '@dystracer/core/filter/filter'
import { stageRank, type Stage } from '@dystracer/core/ladder/ladder'
import { compareAge, escapeLike, SQL_OPERATOR } from '#platform/db/filter-parts'
import { IS_BLOCKED } from '#subjects/records/index'

/** What a filter means for one asker at one time. */
export interface FilterScope {
  nowMs: number
  personId: string | null
  /** By which zone the asker's days begin; null, or nothing, is UTC. */
  timeZone?: string | null
}
/**
 * Items found by an index of their own: `keys` selects them, `probe` gives `rowsPerItem` times as many rows at most, unsorted, so that
 * seeing whether they are few is cheap.
 */
export interface Driver {
  keys: string
  probe: string
  rowsPerItem: number
}
export interface CompiledFilter {
  where: string
  bind: Record<string, string | number | null>
  /** Ways to the few items that a condition admits which all must meet. */
  drivers: Driver[]
  /** What its words match in the search indices, for rank and excerpts; null without words that all results must hold. */
  match: string | null
  /** The same, each word by its bound name. */
  matches: string[]
}

/** Columns that comparisons read, by the filter's word; a label and a requirement are looked up elsewhere. */
const COLUMN: Partial<Record<FilterField, string>> = {
  ...Object.fromEntries([...FIELD_BY_FILTER_WORD].map(([word, name]) => [word, `i.${ITEM_FIELDS[name].column}`])),
  project: 'i.project',
  reporter: 'i.reporter_id',
  stage: 'i.stage_rank',
  fault: 'i.fault',
  key: 'i.key',
  points: 'i.points',
  updated: 'i.updated_at_ms',
  created: 'i.created_at_ms',
}
const FLAG: Record<FilterFlag, string> = {
  open: 'i.is_open = 1',
  settled: 'i.is_open = 0',
  rejected: 'i.disposition IS NOT NULL',
  mine: `(i.owner_id = @me OR (i.co_owner_ids <> '[]' AND EXISTS (SELECT 1 FROM json_each(i.co_owner_ids) WHERE value = @me)))`,
  unowned: 'i.owner_id IS NULL',
  drift: 'i.has_drift = 1',
  back: 'i.has_come_back = 1',
  blocked: IS_BLOCKED,
  overdue: 'i.is_open = 1 AND i.due_on < @today',
  followed: 'EXISTS (SELECT 1 FROM follower w WHERE w.item_key = i.key AND w.person_id = @me)',
  archived: 'i.is_archived = 1',
}
/** Keys of the items that have a flag which few have. */
const FLAG_DRIVER: Partial<Record<FilterFlag, string>> = {
  rejected: 'SELECT key FROM item WHERE disposition IS NOT NULL',
  drift: 'SELECT key FROM item WHERE has_drift = 1',
  back: 'SELECT key FROM item WHERE has_come_back = 1',
  archived: 'SELECT key FROM item WHERE is_archived = 1',
  followed: 'SELECT item_key AS key FROM follower WHERE person_id = @me',
  blocked: `SELECT to_id AS key FROM link_assertion WHERE kind = 'blocks' AND to_kind = 'item' AND retracted_at_ms IS NULL`,
  overdue: 'SELECT key FROM item WHERE due_on < @today AND due_on IS NOT NULL',
}
/** Columns with an index of their own by which equal values are found. */
const DRIVEN_COLUMNS: Partial<Record<FilterField, string>> = {
  milestone: 'milestone',
  sprint: 'sprint',
  priority: 'priority',
  component: 'component',
  release: 'found_in',
}
/** A filter as an SQL condition on `item i`, from a closed catalogue of fragments; all values are bound. */
export function compileFilter(filter: Filter, scope: FilterScope): CompiledFilter {
  const bind: CompiledFilter['bind'] = { me: scope.personId ?? '', today: dayIn(scope.timeZone ?? null, scope.nowMs) }
  let count = 0
  const bound = (value: string | number) => {
    const name = `v${count++}`
    bind[name] = value
    return `@${name}`
  }
  const where = (part: Filter): string => {
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
        return FLAG[part.flag]
      case 'words': {
        const match = bound(matchText(part.text, part.isPhrase))
        return holds('(SELECT r.rowid FROM item_search_row r WHERE r.key = i.key)', match)
      }
      case 'compare':
        return compare(part, bound, scope)
      default:
        return assertNever(part)
    }
  }
  const parts = filter.kind === 'and' ? filter.parts : [filter]
  const words = parts.filter((part) => part.kind === 'words')
  return {
    where: where(filter),
    bind,
    drivers: driversOf(parts, bound),
    matches: words.map((part) => bound(matchText(part.text, part.isPhrase))),
    match: words.length === 0 ? null : words.map((part) => matchText(part.text, part.isPhrase)).join(' OR '),
  }
}

/** Whether a row of the search index holds words, in the item or in one of its comments. */
function holds(row: string, match: string): string {
  return `(${row} IN (SELECT rowid FROM item_search WHERE item_search MATCH ${match})
    OR ${row} IN (SELECT rowid >> 20 FROM comment_search WHERE comment_search MATCH ${match}))`
}

/** How the items that meet all parts are found by an index, when one of the parts may admit few. Bounds of the due day count as one. */
function driversOf(parts: readonly Filter[], bound: (value: string | number) => string): Driver[] {
  const bounds = parts.flatMap((part) =>
    part.kind === 'compare' && part.field === 'due' && part.comparison !== '!='
      ? `due_on ${SQL_OPERATOR[part.comparison]} ${bound(part.value)}`
      : [],
  )
  const due = bounds.length === 0 ? [] : [simple(`SELECT key FROM item WHERE due_on IS NOT NULL AND ${bounds.join(' AND ')}`)]
  return [...due, ...parts.flatMap((part) => driverOf(part, bound) ?? [])]
}

const simple = (keys: string): Driver => ({ keys, probe: keys, rowsPerItem: 1 })

/** The way to the items that one part admits; null where only reading along tells. */
function driverOf(part: Filter, bound: (value: string | number) => string): Driver | null {
  if (part.kind === 'flag') return FLAG_DRIVER[part.flag] ? simple(FLAG_DRIVER[part.flag] ?? '') : null
  if (part.kind === 'words') {
    const match = bound(matchText(part.text, part.isPhrase))
    return {
      keys: `SELECT key FROM item_search_row WHERE rowid IN (SELECT rowid FROM item_search WHERE item_search MATCH ${match}
        UNION SELECT rowid >> 20 FROM comment_search WHERE comment_search MATCH ${match})`,
      probe: `SELECT rowid FROM item_search WHERE item_search MATCH ${match}
        UNION ALL SELECT rowid FROM comment_search WHERE comment_search MATCH ${match}`,
      rowsPerItem: 3,
    }
  }
  if (part.kind !== 'compare' || part.comparison !== '=') return null
  switch (part.field) {
    case 'label':
      return simple(`SELECT item_key AS key FROM item_label WHERE label = ${bound(part.value)}`)
    case 'requirement':
      return simple(
        `SELECT from_id AS key FROM link_assertion
          WHERE from_kind = 'item' AND to_kind = 'requirement' AND to_id = ${bound(part.value.toUpperCase())}
          AND retracted_at_ms IS NULL`,
      )
    case 'key':
      return simple(`SELECT key FROM item WHERE key = ${bound(part.value.toUpperCase())}`)
    case 'fault':
      return simple(`SELECT key FROM item WHERE fault = ${bound(part.value.toUpperCase())}`)
    case 'stage':
      return simple(`SELECT key FROM item WHERE stage_rank = ${bound(stageRank(part.value.toLowerCase() as Stage))}`)
    default: {
      const column = DRIVEN_COLUMNS[part.field]
      return column ? simple(`SELECT key FROM item WHERE ${column} IS NOT NULL AND ${column} = ${bound(part.value)} COLLATE NOCASE`) : null
    }
  }
}

function compare(part: Extract<Filter, { kind: 'compare' }>, bound: (value: string | number) => string, scope: FilterScope): string {
  const column = COLUMN[part.field]
  const operator = SQL_OPERATOR[part.comparison]
  const isNegated = part.comparison === '!='
  const ownId = ownFieldAt(part.field)
  if (ownId !== null) return compareOwn(ownId, part, bound, scope)
  switch (part.field) {
    case 'label':
      return `${isNegated ? 'NOT ' : ''}EXISTS (SELECT 1 FROM item_label b WHERE b.label = ${bound(part.value)} AND b.item_key = i.key)`
    case 'requirement':
      return `${isNegated ? 'NOT ' : ''}EXISTS (SELECT 1 FROM link_assertion l
        WHERE l.from_kind = 'item' AND l.from_id = i.key AND l.to_kind = 'requirement'
        AND l.to_id = ${bound(part.value.toUpperCase())} AND l.retracted_at_ms IS NULL)`
    case 'severity':
    case 'points':
      return `${column} ${operator} ${bound(Number(part.value))}`
    case 'stage':
      return `${column} ${operator} ${bound(stageRank(part.value.toLowerCase() as Stage))}`
    case 'owner':
    case 'reporter':
      if (part.value.toLowerCase() === 'me') return `${column} ${operator} ${bound(scope.personId ?? '')}`
      return `${isNegated ? 'NOT ' : ''}coalesce(${column} IN
        (SELECT person_id FROM person
        WHERE person_id = ${bound(part.value.toLowerCase())}
        OR name LIKE ${bound(`%${escapeLike(part.value)}%`)} ESCAPE '\\'), 0)`
    case 'updated':
    case 'created':
      return compareAge(column ?? '', part, bound, scope.nowMs)
    case 'key':
    case 'fault':
      return `${column} ${operator} ${bound(part.value.toUpperCase())}`
    default:
      return `${column} ${operator} ${bound(part.value)} COLLATE NOCASE`
  }
}

/** One of the values of an own field has to meet the condition, and with `!=` none may be it; numbers compare as numbers. */
function compareOwn(
  ownId: string,
  { comparison, value }: Pick<Extract<Filter, { kind: 'compare' }>, 'comparison' | 'value'>,
  bound: (value: string | number) => string,
  scope: FilterScope,
): string {
  const held = `json_each(i.own_values, ${bound(`$.${JSON.stringify(ownId)}`)}) e`
  const wanted = value.toLowerCase() === 'me' ? (scope.personId ?? '') : value
  if (comparison === '=' || comparison === '!=')
    return (
      `${comparison === '!=' ? 'NOT ' : ''}EXISTS (SELECT 1 FROM ${held} WHERE CAST(e.value AS TEXT) = ` +
      `${bound(wanted)} COLLATE NOCASE)`
    )
  const operator = SQL_OPERATOR[comparison]
  const number = Number(value)
  return Number.isFinite(number)
    ? `EXISTS (SELECT 1 FROM ${held} WHERE e.type IN ('integer', 'real') AND e.value ${operator} ${bound(number)})`
    : `EXISTS (SELECT 1 FROM ${held} WHERE e.type = 'text' AND e.value ${operator} ${bound(value)} COLLATE NOCASE)`
}

function matchText(text: string, isPhrase: boolean): string {
  const quoted = `"${text.replaceAll('"', '""')}"`
  return isPhrase ? quoted : `${quoted}*`
}
