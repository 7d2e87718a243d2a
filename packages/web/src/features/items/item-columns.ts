import { columnsInOrder, type ItemColumn } from '@dystracer/core/looking/look'
import type { OwnPlace } from '@dystracer/core/setup/own-field'

/** The columns that stand before the title. */
export const BEFORE_TITLE: readonly ItemColumn[] = ['severity', 'type']

/** Of some columns those that stand behind the title, in their order. */
export function behindTitle(columns: readonly ItemColumn[]): ItemColumn[] {
  return columnsInOrder(columns).filter((column) => !BEFORE_TITLE.includes(column))
}

const OWN_WIDTH_PX = 90
const WIDTHS_PX: Record<Exclude<ItemColumn, OwnPlace>, number> = {
  severity: 12,
  type: 52,
  priority: 56,
  component: 104,
  milestone: 60,
  sprint: 70,
  points: 34,
  estimate: 56,
  labels: 110,
  parent: 64,
  due: 76,
  updated: 52,
  stair: 56,
  owner: 20,
}
/** What a column takes when nobody drew it, in px. */
export function usualWidthPx(column: ItemColumn): number {
  return (WIDTHS_PX as Partial<Record<ItemColumn, number>>)[column] ?? OWN_WIDTH_PX
}
/** The custom property that holds a column's drawn width; a dot would have to be escaped in it. */
export function widthProperty(column: ItemColumn): string {
  return `--wide-${column.replace('.', '-')}`
}
/** Columns whose content always has the same width. */
export const FIXED: ReadonlySet<ItemColumn> = new Set(['severity', 'stair', 'owner'])

/** The width of a column as a style: the list carries the drawn widths, so that drawing one redraws no row. */
export function widthOf(column: ItemColumn): { width: string } {
  return { width: `var(${widthProperty(column)}, ${usualWidthPx(column)}px)` }
}

/** The drawn widths as the style of a list. */
export function widthVariables(widths: Readonly<Partial<Record<ItemColumn, number>>> | undefined): Record<string, string> {
  return Object.fromEntries(Object.entries(widths ?? {}).map(([column, px]) => [widthProperty(column as ItemColumn), `${px}px`]))
}
