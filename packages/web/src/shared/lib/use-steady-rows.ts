import { useState } from 'react'

/**
 * Rows in the order in which they were first shown, so that a list under someone's hands does not jump: what left goes, what belongs behind
 * the last is added there, and what came in between waits
 * in `fresh` until `showFresh`. While `isHeld` is false (nothing is chosen yet) everything shows in its own order at once.
 */
export function useSteadyRows<Row>(
  rows: readonly Row[],
  idOf: (row: Row) => string,
  isHeld: boolean,
): { shown: readonly Row[]; fresh: number; showFresh: () => void } {
  const [order, setOrder] = useState<readonly string[] | null>(null)
  // Kept in state and not in an effect: the first render with a choice already has its order.
  if (!isHeld && order !== null) setOrder(null)
  if (isHeld && order === null && rows.length > 0) setOrder(rows.map(idOf))
  if (!isHeld || order === null) return { shown: rows, fresh: 0, showFresh: () => {} }
  const byId = new Map(rows.map((row) => [idOf(row), row]))
  const known = new Set(order)
  const behind = rows.slice(rows.findLastIndex((row) => known.has(idOf(row))) + 1)
  if (behind.length > 0) setOrder([...order, ...behind.map(idOf)])
  const shown = [...order.flatMap((id) => byId.get(id) ?? []), ...behind]
  return { shown, fresh: rows.length - shown.length, showFresh: () => setOrder(rows.map(idOf)) }
}
