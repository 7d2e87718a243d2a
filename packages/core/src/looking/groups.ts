import { boardValue } from '#board/board'
import type { ItemCounts } from './wire.js'
import type { ItemSummary } from '#records/wire'
import type { GroupField } from './orders.js'

/** A line of a grouped list: the head of a group, or an item below it. */
export type ListLine =
  | { kind: 'group'; id: string; value: string; count: number | null; isFolded: boolean }
  | { kind: 'item'; id: string; item: ItemSummary }

/**
 * The lines of a list: the items as they come, and with `groupBy` a head before each group. The items of folded groups are not among
 * `items`; their heads stand where the groups' order puts them,
 * those after the last item once there is no more to come. O(n + groups).
 * @param groups the counts of all groups, in the order in which the items come
 */
export function listLines(
  items: readonly ItemSummary[],
  {
    groupBy,
    groups = [],
    folded = [],
    hasMore = false,
  }: { groupBy?: GroupField | undefined; groups?: ItemCounts['groups']; folded?: readonly string[] | undefined; hasMore?: boolean },
): ListLine[] {
  if (!groupBy) return items.map((item) => ({ kind: 'item', id: item.key, item }))
  const lines: ListLine[] = []
  const placeByValue = new Map(groups.map((group, at) => [group.value, at]))
  const seen = new Set<string>()
  let next = 0
  const head = (value: string, isFolded: boolean) => {
    const place = placeByValue.get(value)
    // An item that was changed a moment ago can stand outside its group until the list is read again; the group then has two heads.
    const id = `group ${value}${seen.has(value) ? ` ${lines.length}` : ''}`
    seen.add(value)
    lines.push({ kind: 'group', id, value, count: place === undefined ? null : (groups[place]?.count ?? null), isFolded })
  }
  const foldedUpTo = (end: number) => {
    for (; next < end; next++) {
      const value = groups[next]?.value ?? ''
      if (folded.includes(value)) head(value, true)
    }
  }
  let current: string | null = null
  for (const item of items) {
    const value = boardValue(item, groupBy)
    if (value !== current) {
      const place = placeByValue.get(value) ?? -1
      foldedUpTo(place)
      next = Math.max(next, place + 1)
      head(value, false)
      current = value
    }
    lines.push({ kind: 'item', id: item.key, item })
  }
  if (!hasMore) foldedUpTo(groups.length)
  return lines
}
