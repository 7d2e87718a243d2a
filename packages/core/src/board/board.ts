import type { ItemSummary } from '#records/wire'
import { PRIORITIES } from '#setup/field-use'
import { missingFor, type StageRule } from '#setup/stage-rule'
import { STAGES, type Stage, stageRank } from '#ladder/ladder'

/** What a board's columns or lanes can stand for. */
export const BOARD_FIELDS = ['stage', 'owner', 'component', 'milestone', 'sprint', 'severity', 'priority', 'type'] as const
/** A field whose values can be the columns or lanes of a board. */
export type BoardField = (typeof BOARD_FIELDS)[number]
/** The column of items that have no value of its field. */
export const NO_VALUE = ''

/** The value of an item in a field, as text; `NO_VALUE` for none. */
export function boardValue(item: ItemSummary, field: BoardField): string {
  switch (field) {
    case 'stage':
      return item.stage
    case 'owner':
      return item.ownerId ?? NO_VALUE
    case 'severity':
      return item.severity === null ? NO_VALUE : String(item.severity)
    default:
      return item[field] ?? NO_VALUE
  }
}

/**
 * The columns of a field in their order: all that the project knows, then what items merely name, then those without a value if there are
 * any.
 */
export function boardValues(items: readonly ItemSummary[], field: BoardField, known: readonly string[]): string[] {
  const fixed = field === 'stage' ? STAGES : field === 'severity' ? ['1', '2', '3', '4', '5'] : field === 'priority' ? PRIORITIES : known
  const named = new Set(items.map((item) => boardValue(item, field)))
  const others = [...named].filter((value) => value !== NO_VALUE && !(fixed as readonly string[]).includes(value)).sort()
  return [...fixed, ...others, ...(named.has(NO_VALUE) ? [NO_VALUE] : [])]
}

/** Items by lane, and within it by column, each in its cell once and in the order given. O(n). */
export function boardCells(
  items: readonly ItemSummary[],
  columns: BoardField,
  lanes: BoardField | null,
): Map<string, Map<string, ItemSummary[]>> {
  const cells = new Map<string, Map<string, ItemSummary[]>>()
  for (const item of items) {
    const lane = lanes === null ? NO_VALUE : boardValue(item, lanes)
    const row = cells.get(lane) ?? new Map<string, ItemSummary[]>()
    cells.set(lane, row)
    const column = boardValue(item, columns)
    const cell = row.get(column) ?? []
    row.set(column, cell)
    cell.push(item)
  }
  return cells
}

/** What dropping a card on a column does, or why it cannot. */
export type BoardMove =
  | { kind: 'none' }
  | { kind: 'change'; change: Record<string, unknown> }
  | { kind: 'accept' | 'verify' }
  /** The evidence will show whether it holds; until then it is a claim (docs/rules.md#own-acts). */
  | { kind: 'claim'; stage: Stage }
  | { kind: 'refused'; code: 'stands-there' | 'not-by-hand' | 'needs'; missing: string[] }

/**
 * What a drag means: a field takes the column's value; a stage is accepted or verified by the person's own act, claimed where only evidence
 * decides, and never taken back by dragging. A stage whose
 * rule is not met says what is missing.
 */
export function boardMove(item: ItemSummary, field: BoardField, value: string, stageRules: readonly StageRule[]): BoardMove {
  if (boardValue(item, field) === value) return { kind: 'none' }
  switch (field) {
    case 'stage':
      return stageMove(item, value as Stage, stageRules)
    case 'owner':
      return { kind: 'change', change: { ownerId: value || null } }
    case 'severity':
      return { kind: 'change', change: { severity: value === NO_VALUE ? null : Number(value) } }
    case 'type':
      return value === NO_VALUE ? { kind: 'none' } : { kind: 'change', change: { type: value } }
    default:
      return { kind: 'change', change: { [field]: value || null } }
  }
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
