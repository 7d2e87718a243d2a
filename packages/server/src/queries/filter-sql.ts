import { assertNever } from '@dystracer/core/basics/assert-never'
import type { Comparison, Filter, FilterField, FilterFlag } from '@dystracer/core/filter/filter'
import { STAGES } from '@dystracer/core/ladder/ladder'
import { IS_BLOCKED } from './items.queries.js'

/** What a filter means for one asker at one time. */
export interface FilterScope {
  nowMs: number
  personId: string | null
}
export interface CompiledFilter {
  where: string
  bind: Record<string, string | number | null>
}

const COLUMN: Partial<Record<FilterField, string>> = {
  type: 'i.type',
  severity: 'i.severity',
  component: 'i.component',
  milestone: 'i.milestone',
  fault: 'i.fault',
  key: 'i.key',
  release: 'i.found_in',
  owner: 'i.owner_id',
  reporter: 'i.reporter_id',
  updated: 'i.updated_at_ms',
  created: 'i.created_at_ms',
  stage: 'i.stage_rank',
  priority: 'i.priority',
  sprint: 'i.sprint',
  project: 'i.project',
  due: 'i.due_on',
}
const FLAG: Record<FilterFlag, string> = {
  open: 'i.is_open = 1',
  settled: 'i.is_open = 0',
  rejected: 'i.disposition IS NOT NULL',
  mine: '(i.owner_id = @me OR EXISTS (SELECT 1 FROM json_each(i.co_owner_ids) WHERE value = @me))',
  unowned: 'i.owner_id IS NULL',
  drift: 'i.has_drift = 1',
  back: 'i.has_come_back = 1',
  blocked: IS_BLOCKED,
  overdue: 'i.is_open = 1 AND i.due_on < @today',
  followed: 'EXISTS (SELECT 1 FROM follower w WHERE w.item_key = i.key AND w.person_id = @me)',
  archived: 'i.is_archived = 1',
}
/** The comparison operators as SQL; nothing of the filter's own text ever becomes SQL. */
const OPERATOR: Record<Comparison, string> = { '=': 'IS', '!=': 'IS NOT', '<': '<', '<=': '<=', '>': '>', '>=': '>=' }
const AGE_MS: Record<string, number> = { h: 3600_000, d: 86_400_000, w: 604_800_000 }

/** A filter as an SQL condition on `item i`, from a closed catalogue of fragments; all values are bound. */
export function compileFilter(filter: Filter, scope: FilterScope): CompiledFilter {
  const bind: CompiledFilter['bind'] = { me: scope.personId ?? '', today: new Date(scope.nowMs).toISOString().slice(0, 10) }
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
        return `(i.key IN (SELECT key FROM item_search WHERE item_search MATCH ${match})
          OR i.key IN (SELECT r.item_key FROM comment_search s CROSS JOIN comment_search_row r ON r.rowid = s.rowid WHERE comment_search MATCH ${match}))`
      }
      case 'compare':
        return compare(part, bound, scope)
      default:
        return assertNever(part)
    }
  }
  return { where: where(filter), bind }
}

function compare(part: Extract<Filter, { kind: 'compare' }>, bound: (value: string | number) => string, scope: FilterScope): string {
  const column = COLUMN[part.field]
  const operator = OPERATOR[part.comparison]
  const isNegated = part.comparison === '!='
  switch (part.field) {
    case 'label':
      return `${isNegated ? 'NOT ' : ''}EXISTS (SELECT 1 FROM json_each(i.labels) WHERE value = ${bound(part.value)} COLLATE NOCASE)`
    case 'requirement':
      return `${isNegated ? 'NOT ' : ''}EXISTS (SELECT 1 FROM link_assertion l WHERE l.from_kind = 'item' AND l.from_id = i.key AND l.to_kind = 'requirement' AND l.to_id = ${bound(part.value.toUpperCase())} AND l.retracted_at_ms IS NULL)`
    case 'severity':
      return `${column} ${operator} ${bound(Number(part.value))}`
    case 'stage':
      return `${column} ${operator} ${bound(STAGES.indexOf(part.value.toLowerCase() as (typeof STAGES)[number]))}`
    case 'owner':
    case 'reporter':
      if (part.value.toLowerCase() === 'me') return `${column} ${operator} ${bound(scope.personId ?? '')}`
      return `${isNegated ? 'NOT ' : ''}coalesce(${column} IN (SELECT person_id FROM person WHERE person_id = ${bound(part.value.toLowerCase())} OR name LIKE ${bound(`%${escapeLike(part.value)}%`)} ESCAPE '\\'), 0)`
    case 'updated':
    case 'created':
      return `${column} ${ageOperator(part, operator)} ${bound(ageStart(part.value, scope.nowMs))}`
    case 'key':
    case 'fault':
      return `${column} ${operator} ${bound(part.value.toUpperCase())}`
    default:
      return `${column} ${operator} ${bound(part.value)} COLLATE NOCASE`
  }
}

/** `updated<7d` asks for a smaller age, that is a later time; a day is compared as it stands. */
function ageOperator(part: { comparison: Comparison; value: string }, operator: string): string {
  if (!/[hdw]$/.test(part.value)) return operator
  return { '<': '>', '<=': '>=', '>': '<', '>=': '<=' }[part.comparison as string] ?? operator
}

function ageStart(value: string, nowMs: number): number {
  const unit = AGE_MS[value.at(-1) ?? '']
  return unit ? nowMs - Number.parseInt(value, 10) * unit : Date.parse(`${value}T00:00:00Z`)
}

function matchText(text: string, isPhrase: boolean): string {
  const quoted = `"${text.replaceAll('"', '""')}"`
  return isPhrase ? quoted : `${quoted}*`
}

function escapeLike(text: string): string {
  return text.replace(/[\\%_]/g, '\\$&')
}
