import { computeLadder } from '@dystracer/core/ladder/compute-ladder'
import { type Stage, type Ladder, stairOf } from '@dystracer/core/ladder/ladder'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { readLadderInput } from './ladder-evidence.js'
import { GET_ITEM_BY_KEY, LIST_ITEM, LIST_LINK_ASSERTION_BY_KEY } from './move-ladders.queries.js'

export type Reading = Pick<ServiceContext, 'db' | 'volume' | 'use' | 'nowMs'>
/**
 * Computes the ladders of the touched items inside the write that touched them; journals those that moved, so that cause and effect land
 * together. A parent stands on its parts
 * (docs/rules.md#parents), so it follows after them, level by level; `parent` has no loops, and a parent whose ladder stays ends the climb.
 */
export function moveLadders(ctx: Reading, writer: JournalWriter, touched: ReadonlySet<string>): Move[] {
  const moves: Move[] = []
  let level = new Set(touched)
  while (level.size > 0) {
    const above = new Set<string>()
    for (const key of partsFirst(ctx, level)) {
      const move = moveLadder(ctx, writer, key)
      if (!move) continue
      moves.push(move)
      for (const parent of parentsOf(ctx, key)) above.add(parent)
    }
    level = above
  }
  return moves
}
/** One ladder that is another one than before; `from` is null for a new item. */
export interface Move {
  key: string
  from: Stage | null
  to: Stage
  hasComeBack: boolean
}
/** Journals an item's ladder if it is another one than before; null if it is not. */
function moveLadder(ctx: Reading, writer: JournalWriter, key: string): Move | null {
  const input = readLadderInput(ctx, key)
  if (!input) return null
  const ladder = computeLadder(input)
  const before = sql(ctx.db, GET_ITEM_BY_KEY).get<{ ladder: string | null; stage: string; stair: string }>({
    key,
  })
  if (before?.ladder && isSameLadder(JSON.parse(before.ladder) as Ladder, ladder)) return null
  writer.append({
    kind: 'ladder-moved',
    actor: 'system',
    subjects: [`item:${key}`],
    body: { key, ladder, stair: stairOf(ladder), from: before?.stage ?? 'logged' },
  })
  return { key, from: before?.ladder ? (before.stage as Stage) : null, to: ladder.stage, hasComeBack: ladder.hasComeBack }
}
function parentsOf(ctx: Reading, key: string): string[] {
  return sql(ctx.db, LIST_LINK_ASSERTION_BY_KEY)
    .all<{ to_id: string }>({ key })
    .map((row) => row.to_id)
}
/** Keys in an order in which no parent of the same level comes before its part. */
function partsFirst(ctx: Reading, keys: ReadonlySet<string>): string[] {
  if (keys.size < 2) return [...keys]
  const parentsWithin = new Map([...keys].map((key) => [key, parentsOf(ctx, key).filter((parent) => keys.has(parent))]))
  const done = new Set<string>()
  const visit = (key: string): void => {
    if (done.has(key)) return
    done.add(key)
    for (const parent of parentsWithin.get(key) ?? []) visit(parent)
    order.unshift(key)
  }
  const order: string[] = []
  for (const key of keys) visit(key)
  return order
}
/** Counts that only grow (how much a service was exercised) do not make a ladder another one. */
function isSameLadder(a: Ladder, b: Ladder): boolean {
  return comparable(a) === comparable(b)
}
function comparable(ladder: Ladder): string {
  return JSON.stringify(ladder, (name, value: unknown) => (name === 'exercised' ? undefined : value))
}
/**
 * Looks again at items whose fault is being watched: silence passes without an event (docs/rules.md#decisions: the timer's decision is
 * journalled).
 */
export function judgeWaitingItems(ctx: ServiceContext): void {
  const keys = sql(ctx.db, LIST_ITEM)
    .all<{ key: string }>({})
    .map((row) => row.key)
  if (keys.length > 0) ctx.journal.write((writer) => writer.touch(keys))
}
