import { assertNever } from '#basics/assert-never'
import { type Stage, stageRank } from '#ladder/ladder'
import { FIELD_BY_FILTER_WORD, type FilteredWordField, type ItemFieldValues } from '#setup/item-fields'
import { ownFieldAt, type OwnValue } from '#setup/own-field'
import type { Comparison, Filter } from './filter.js'

/** What a filter can look at of one item. */
export interface FilteredItem extends Pick<ItemFieldValues, FilteredWordField> {
  key: string
  title: string
  description: string
  comments: readonly string[]
  project: string
  stage: Stage
  severity: number | null
  ownerId: string | null
  coOwnerIds: readonly string[]
  reporterId: string | null
  labels: readonly string[]
  points: number | null
  ownValues: Readonly<Record<string, OwnValue>>
  requirements: readonly string[]
  fault: string | null
  updatedAtMs: number
  createdAtMs: number
  isOpen: boolean
  isRejected: boolean
  hasDrift: boolean
  hasComeBack: boolean
  isBlocked: boolean
  isArchived: boolean
  followerIds: readonly string[]
}
/** What an item is asked by the slow evaluation: its values, and which people and days words like `me` mean. */
export interface FilterWorld {
  nowMs: number
  today: string
  personId: string
  /** Persons by id, for names. */
  nameOf: (personId: string) => string
}

const AGE_MS: Record<string, number> = { h: 3_600_000, d: 86_400_000, w: 604_800_000 }

/**
 * Whether an item meets a filter, read term by term: the slow twin that the SQL of the server is held against. Null compares as SQL's IS
 * does for equality, and as never for order.
 */
export function meetsFilter(filter: Filter, item: FilteredItem, world: FilterWorld): boolean {
  switch (filter.kind) {
    case 'all':
      return true
    case 'and':
      return filter.parts.every((part) => meetsFilter(part, item, world))
    case 'or':
      return filter.parts.some((part) => meetsFilter(part, item, world))
    case 'not':
      return !meetsFilter(filter.part, item, world)
    case 'words':
      return [item.title, item.description, ...item.comments].some((text) => holdsWords(text, filter.text, filter.isPhrase))
    case 'flag':
      return meetsFlag(filter.flag, item, world)
    case 'compare':
      return meetsComparison(filter, item, world)
    default:
      return assertNever(filter)
  }
}

/** Words as the search index splits them, without stems: good for texts whose words are their own stems. */
function holdsWords(text: string, wanted: string, isPhrase: boolean): boolean {
  const words = wordsOf(text)
  const asked = wordsOf(wanted)
  if (asked.length === 0) return false
  return words.some((_, at) =>
    asked.every((word, offset) => {
      const found = words[at + offset]
      return offset === asked.length - 1 && !isPhrase ? found?.startsWith(word) === true : found === word
    }),
  )
}

function wordsOf(text: string): string[] {
  return text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []
}

function meetsFlag(flag: Extract<Filter, { kind: 'flag' }>['flag'], item: FilteredItem, world: FilterWorld): boolean {
  switch (flag) {
    case 'open':
      return item.isOpen
    case 'settled':
      return !item.isOpen
    case 'rejected':
      return item.isRejected
    case 'mine':
      return item.ownerId === world.personId || item.coOwnerIds.includes(world.personId)
    case 'unowned':
      return item.ownerId === null
    case 'drift':
      return item.hasDrift
    case 'back':
      return item.hasComeBack
    case 'blocked':
      return item.isBlocked
    case 'overdue':
      return item.isOpen && item.dueOn !== null && item.dueOn < world.today
    case 'followed':
      return item.followerIds.includes(world.personId)
    case 'archived':
      return item.isArchived
    default:
      return assertNever(flag)
  }
}

function meetsComparison(
  { field, comparison, value }: Extract<Filter, { kind: 'compare' }>,
  item: FilteredItem,
  world: FilterWorld,
): boolean {
  const isNegated = comparison === '!='
  const same = (a: string) => a.toLowerCase() === value.toLowerCase()
  const ownId = ownFieldAt(field)
  if (ownId !== null)
    return meetsOwn([item.ownValues[ownId] ?? []].flat(), { comparison, value: value.toLowerCase() === 'me' ? world.personId : value })
  switch (field) {
    case 'label':
      return item.labels.some(same) !== isNegated
    case 'requirement':
      return item.requirements.some(same) !== isNegated
    case 'severity':
    case 'points':
      return compare(item[field], Number(value), comparison)
    case 'stage':
      return compare(stageRank(item.stage), stageRank(value.toLowerCase() as Stage), comparison)
    case 'owner':
    case 'reporter': {
      const personId = field === 'owner' ? item.ownerId : item.reporterId
      if (value.toLowerCase() === 'me') return compare(personId, world.personId, comparison)
      const isThem =
        personId !== null && (personId === value.toLowerCase() || world.nameOf(personId).toLowerCase().includes(value.toLowerCase()))
      return isThem !== isNegated
    }
    case 'updated':
    case 'created': {
      const atMs = field === 'updated' ? item.updatedAtMs : item.createdAtMs
      const unit = AGE_MS[value.at(-1) ?? '']
      // A smaller age is a later time.
      return unit
        ? compare(world.nowMs - atMs, Number.parseInt(value, 10) * unit, comparison)
        : compare(atMs, Date.parse(`${value}T00:00:00Z`), comparison)
    }
    case 'key':
    case 'fault':
      return compare(field === 'key' ? item.key : item.fault, value.toUpperCase(), comparison)
    default: {
      const name = FIELD_BY_FILTER_WORD.get(field)
      const held = field === 'project' ? item.project : name === undefined ? null : item[name as FilteredWordField]
      return compare(held?.toLowerCase() ?? null, value.toLowerCase(), comparison)
    }
  }
}

/** Of an own field one of its values has to meet a condition, and with `!=` none may be it; numbers compare as numbers. */
function meetsOwn(held: readonly (string | number)[], { comparison, value }: { comparison: Comparison; value: string }): boolean {
  if (comparison === '!=') return !meetsOwn(held, { comparison: '=', value })
  if (comparison === '=') return held.some((each) => String(each).toLowerCase() === value.toLowerCase())
  const number = Number(value)
  return held.some((each) => {
    if (typeof each === 'number') return Number.isFinite(number) && compare(each, number, comparison)
    return !Number.isFinite(number) && compare(each.toLowerCase(), value.toLowerCase(), comparison)
  })
}

function compare<Value extends string | number>(a: Value | null, b: Value, comparison: Comparison): boolean {
  if (comparison === '=') return a === b
  if (comparison === '!=') return a !== b
  if (a === null) return false
  return comparison === '<' ? a < b : comparison === '<=' ? a <= b : comparison === '>' ? a > b : a >= b
}
