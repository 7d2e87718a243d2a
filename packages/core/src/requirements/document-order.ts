/**
 * Requirements in the order in which one reads them: each below what it belongs to, those of one level by their position, then by key. A
 * requirement whose parent is not among them, or whose parents go round in a circle, stands
 * on the first level, so that nothing is lost. Cost: n log n.
 */
export function inDocumentOrder<Row extends { key: string; parent: string | null; position: number }>(rows: readonly Row[]): Row[] {
  const keys = new Set(rows.map((row) => row.key))
  const below = new Map<string | null, Row[]>()
  for (const row of [...rows].sort((a, b) => a.position - b.position || (a.key < b.key ? -1 : 1))) {
    const parent = row.parent !== null && keys.has(row.parent) ? row.parent : null
    const siblings = below.get(parent)
    if (siblings) siblings.push(row)
    else below.set(parent, [row])
  }
  const ordered = new Set<Row>()
  const visit = (row: Row) => {
    if (ordered.has(row)) return
    ordered.add(row)
    for (const child of below.get(row.key) ?? []) visit(child)
  }
  for (const row of below.get(null) ?? []) visit(row)
  for (const row of rows) visit(row)
  return [...ordered]
}

/**
 * The numbers of the chapters: `1`, `1.1`, … of every heading, by the order and nesting of the document. Rows
 * come in document order. A heading whose parent is no heading begins anew on the first level. O(n).
 */
export function chapterNumbers(rows: readonly { key: string; parent: string | null; isHeading: boolean }[]): Map<string, string> {
  const numbers = new Map<string, string>()
  const counts = new Map<string, number>()
  for (const { key, parent, isHeading } of rows) {
    if (!isHeading) continue
    const above = parent === null ? '' : (numbers.get(parent) ?? '')
    const count = (counts.get(above) ?? 0) + 1
    counts.set(above, count)
    numbers.set(key, above === '' ? String(count) : `${above}.${count}`)
  }
  return numbers
}
