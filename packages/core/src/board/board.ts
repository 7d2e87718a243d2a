import type { ItemSummary } from '#records/wire'
import { PRIORITIES } from '#setup/field-use'
import { ownFieldAt, type OwnField, type OwnPlace } from '#setup/own-field'
import { missingFor, type StageRule } from '#setup/stage-rule'
import { STAGES, type Stage, stageRank } from '#ladder/ladder'

/** What a board's columns or lanes can stand for. */
export const BOARD_FIELDS = ['stage', 'owner', 'component', 'milestone', 'sprint', 'severity', 'priority', 'type', 'labels'] as const
/** A field whose values can be the columns or lanes of a board; an own field by its place. */
export type BoardField = (typeof BOARD_FIELDS)[number] | OwnPlace
/** What items can be told apart by: on a board, or in groups of a list. */
export type ValuedField = BoardField | 'points' | 'estimate' | 'parent'
/** The column of items that have no value of its field. */
export const NO_VALUE = ''

/** The value of an item in a field, as text; `NO_VALUE` for none, and a JSON list where an own field holds several. */
export function boardValue(item: ItemSummary, field: ValuedField): string {
  const ownId = ownFieldAt(field)
  if (ownId !== null) {
    const value = item.ownValues[ownId] ?? NO_VALUE
    return Array.isArray(value) ? JSON.stringify(value) : String(value)
  }
  switch (field) {
    case 'stage':
      return item.stage
    case 'owner':
      return item.ownerId ?? NO_VALUE
    case 'parent':
      return item.parentKey ?? NO_VALUE
    case 'severity':
    case 'points':
      return item[field] === null ? NO_VALUE : String(item[field])
    case 'estimate':
      return item.estimateMinutes === null ? NO_VALUE : String(item.estimateMinutes)
    case 'labels':
      return JSON.stringify(item.labels)
    default:
      return item[field as 'type' | 'component' | 'milestone' | 'sprint' | 'priority'] ?? NO_VALUE
  }
}

/** The columns in which an item stands: one, or one for each of its labels or of the several values of an own field. */
export function boardPlaces(item: ItemSummary, field: BoardField): string[] {
  const ownId = ownFieldAt(field)
  const several = field === 'labels' ? item.labels : ownId === null ? undefined : item.ownValues[ownId]
  if (!Array.isArray(several)) return [boardValue(item, field)]
  return several.length === 0 ? [NO_VALUE] : [...new Set(several)]
}

/**
 * The columns of a field in their order: all that the project knows, then what items merely name, then those without a value if there are
 * any.
 */
export function boardValues(items: readonly ItemSummary[], field: BoardField, known: readonly string[]): string[] {
  const fixed = field === 'stage' ? STAGES : field === 'severity' ? ['1', '2', '3', '4', '5'] : field === 'priority' ? PRIORITIES : known
  const named = new Set(items.flatMap((item) => boardPlaces(item, field)))
  const others = [...named].filter((value) => value !== NO_VALUE && !(fixed as readonly string[]).includes(value)).sort()
  return [...fixed, ...others, ...(named.has(NO_VALUE) ? [NO_VALUE] : [])]
}

/**
 * The columns that a board shows: those that were chosen, in their order, or all. `hidden` is how many items stand in none of those shown.
 */
export function boardColumns(
  items: readonly ItemSummary[],
  field: BoardField,
  { all, chosen = [] }: { all: readonly string[]; chosen?: readonly string[] | undefined },
): { shown: readonly string[]; hidden: number } {
  if (chosen.length === 0) return { shown: all, hidden: 0 }
  const isShown = new Set(chosen)
  return { shown: chosen, hidden: items.filter((item) => !boardPlaces(item, field).some((value) => isShown.has(value))).length }
}

/** Items by lane, and within it by column, each in every cell that is its own once, and in the order given. O(n). */
export function boardCells(
  items: readonly ItemSummary[],
  columns: BoardField,
  lanes: BoardField | null,
): Map<string, Map<string, ItemSummary[]>> {
  const cells = new Map<string, Map<string, ItemSummary[]>>()
  for (const item of items)
    for (const lane of lanes === null ? [NO_VALUE] : boardPlaces(item, lanes)) {
      const row = cells.get(lane) ?? new Map<string, ItemSummary[]>()
      cells.set(lane, row)
      for (const column of boardPlaces(item, columns)) {
        const cell = row.get(column) ?? []
        row.set(column, cell)
        cell.push(item)
      }
    }
  return cells
}

/** What a move changes of an item. */
export type BoardChange = Partial<
  Pick<ItemSummary, 'ownerId' | 'severity' | 'type' | 'component' | 'milestone' | 'sprint' | 'priority' | 'labels' | 'ownValues'>
>

/** An item as it stands once something of it is changed: of its own fields only those that are named. */
export function withChange(item: ItemSummary, { ownValues, ...change }: BoardChange): ItemSummary {
  return { ...item, ...change, ...(ownValues && { ownValues: { ...item.ownValues, ...ownValues } }) }
}

/** Two changes of one item as one. */
export function bothChanges(one: BoardChange, other: BoardChange): BoardChange {
  const ownValues = { ...one.ownValues, ...other.ownValues }
  return { ...one, ...other, ...(Object.keys(ownValues).length > 0 && { ownValues }) }
}

/** What dropping a card on a column does, or why it cannot. */
export type BoardMove =
  | { kind: 'none' }
  | { kind: 'change'; change: BoardChange }
  | { kind: 'accept' | 'verify' }
  /** The evidence will show whether it holds; until then it is a claim (docs/rules.md#own-acts). */
  | { kind: 'claim'; stage: Stage }
  | { kind: 'refused'; code: 'stands-there' | 'not-by-hand' | 'needs'; missing: string[] }

/**
 * What a drag means: a field takes the column's value; a stage is accepted or verified by the person's own act, claimed where only evidence
 * decides, and never taken back by dragging. A stage whose
 * rule is not met says what is missing. Where a card stands in several columns, the value of the one that it is taken from is replaced.
 */
export function boardMove(
  item: ItemSummary,
  field: BoardField,
  value: string,
  stageRules: readonly StageRule[],
  { from, ownFields = [] }: { from?: string | undefined; ownFields?: readonly Pick<OwnField, 'fieldId' | 'kind'>[] } = {},
): BoardMove {
  if (boardPlaces(item, field).includes(value)) return { kind: 'none' }
  const ownId = ownFieldAt(field)
  if (ownId !== null) {
    const kind = ownFields.find((own) => own.fieldId === ownId)?.kind
    const held = item.ownValues[ownId]
    const list = Array.isArray(held) ? held : []
    const next = kind === 'several-of' ? replaced(list, from, value) : value || null
    return { kind: 'change', change: { ownValues: { [ownId]: next } } }
  }
  switch (field) {
    case 'stage':
      return stageMove(item, value as Stage, stageRules)
    case 'owner':
      return { kind: 'change', change: { ownerId: value || null } }
    case 'severity':
      return { kind: 'change', change: { severity: value === NO_VALUE ? null : Number(value) } }
    case 'type':
      return value === NO_VALUE ? { kind: 'none' } : { kind: 'change', change: { type: value } }
    case 'labels':
      return { kind: 'change', change: { labels: replaced(item.labels, from, value) } }
    default:
      return { kind: 'change', change: { [field]: value || null } }
  }
}

/** The values with another one in the place of the one that the card is taken from; none at all for the column of those without. */
function replaced(values: readonly string[], from: string | undefined, to: string): string[] {
  if (to === NO_VALUE) return []
  return from === undefined || !values.includes(from) ? [...values, to] : values.map((value) => (value === from ? to : value))
}

function stageMove(item: ItemSummary, stage: Stage, stageRules: readonly StageRule[]): BoardMove {
  if (item.disposition !== null || stageRank(stage) < stageRank(item.stage)) return { kind: 'refused', code: 'not-by-hand', missing: [] }
  const rule = stageRules.find((entry) => entry.stage === stage)
  const missing = rule ? missingFor(rule, { ...item, owner: item.ownerId, due: item.dueOn }) : []
  // What a row does not show (a requirement, an estimate) is left to the server, which refuses with the same words.
  const shown = missing.filter((need) => ['owner', 'component', 'severity', 'milestone', 'priority', 'due', 'labels'].includes(need))
  if (shown.length > 0) return { kind: 'refused', code: 'needs', missing: shown }
  if (stage === 'accepted' || stage === 'verified') return { kind: stage === 'accepted' ? 'accept' : 'verify' }
  return { kind: 'claim', stage }
}
