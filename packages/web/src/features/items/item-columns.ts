import type { ItemColumn } from '@dystracer/core/looking/look'

/** The columns that stand before the title, and those behind it, in the order in which they stand. */
export const BEFORE_TITLE = ['severity', 'type'] as const satisfies readonly ItemColumn[]
export const BEHIND_TITLE = [
  'priority',
  'component',
  'milestone',
  'sprint',
  'points',
  'estimate',
  'labels',
  'due',
  'updated',
  'stair',
  'owner',
] as const satisfies readonly ItemColumn[]
/** What a column takes when nobody drew it, in px. */
export const WIDTH_PX: Record<ItemColumn, number> = {
  severity: 12,
  type: 52,
  priority: 56,
  component: 104,
  milestone: 60,
  sprint: 70,
  points: 34,
  estimate: 56,
  labels: 110,
  due: 76,
  updated: 52,
  stair: 56,
  owner: 20,
}
/** Columns whose content always has the same width. */
export const FIXED: ReadonlySet<ItemColumn> = new Set(['severity', 'stair', 'owner'])

/** The width of a column as a style: the list carries the drawn widths, so that drawing one redraws no row. */
export function widthOf(column: ItemColumn): { width: string } {
  return { width: `var(--wide-${column}, ${WIDTH_PX[column]}px)` }
}

/** The drawn widths as the style of a list. */
export function widthVariables(widths: Readonly<Partial<Record<ItemColumn, number>>> | undefined): Record<string, string> {
  return Object.fromEntries(Object.entries(widths ?? {}).map(([column, px]) => [`--wide-${column}`, `${px}px`]))
}
