/** One thing of an outline, and what it is a part of. */
export interface OutlineThing {
  key: string
  parentKey: string | null
}
/** A row of an outline: how deep it stands, how many parts it has (all the way down), and whether they are folded away. */
export interface OutlineRow<Thing> {
  thing: Thing
  depth: number
  partCount: number
  isFolded: boolean
}

/**
 * The rows of an outline in order: each thing below what it is a part of, siblings in the order given; parts of what is folded are left
 * out. A loop of parents, which foreign data may hold, is cut
 * where it is met first. O(n).
 */
export function outlineRows<Thing extends OutlineThing>(things: readonly Thing[], foldedKeys: ReadonlySet<string>): OutlineRow<Thing>[] {
  const byKey = new Map(things.map((thing) => [thing.key, thing]))
  const parts = new Map<string | null, Thing[]>()
  for (const thing of byKey.values()) {
    const parent = thing.parentKey !== null && byKey.has(thing.parentKey) ? thing.parentKey : null
    const known = parts.get(parent)
    if (known) known.push(thing)
    else parts.set(parent, [thing])
  }
  const rows: OutlineRow<Thing>[] = []
  const placed = new Set<string>()
  /** Places a thing and what is below; gives how many things that were. An explicit stack, so that no depth overflows. */
  const place = (root: Thing): void => {
    const stack: { thing: Thing; depth: number; isHidden: boolean }[] = [{ thing: root, depth: 0, isHidden: false }]
    const open: { row: OutlineRow<Thing>; depth: number }[] = []
    for (let top = stack.pop(); top; top = stack.pop()) {
      const { thing, depth, isHidden } = top
      if (placed.has(thing.key)) continue
      placed.add(thing.key)
      while (open.length > 0 && (open.at(-1)?.depth ?? 0) >= depth) open.pop()
      for (const above of open) above.row.partCount++
      const row = { thing, depth, partCount: 0, isFolded: foldedKeys.has(thing.key) }
      open.push({ row, depth })
      if (!isHidden) rows.push(row)
      const own = parts.get(thing.key) ?? []
      for (let at = own.length - 1; at >= 0; at--)
        stack.push({ thing: own[at] as Thing, depth: depth + 1, isHidden: isHidden || row.isFolded })
    }
  }
  for (const root of parts.get(null) ?? []) place(root)
  for (const thing of byKey.values()) if (!placed.has(thing.key)) place(thing)
  return rows
}
