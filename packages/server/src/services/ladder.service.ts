import { computeLadder } from '@dystracer/core/ladder/compute-ladder'
import { stairOf, type Ladder } from '@dystracer/core/ladder/ladder'
import { sql } from '../db/statements.js'
import type { JournalWriter } from '../journal/journal.js'
import { readLadderInput } from './ladder-evidence.js'
import type { ServiceContext } from './service-context.js'

type Reading = Pick<ServiceContext, 'db' | 'volume' | 'graphs' | 'nowMs'>

/** Computes the ladders of the touched items inside the write that touched them; journals those that moved, so that cause and effect land together. */
export function moveLadders(ctx: Reading, writer: JournalWriter, touched: ReadonlySet<string>): void {
  for (const key of touched) {
    const input = readLadderInput(ctx, key)
    if (!input) continue
    const ladder = computeLadder(input)
    const before = sql<object, { ladder: string | null; stage: string; stair: string }>(
      ctx.db,
      'SELECT ladder, stage, stair FROM item WHERE key = @key',
    ).get({ key })
    if (before?.ladder && isSameLadder(JSON.parse(before.ladder) as Ladder, ladder)) continue
    writer.append({
      kind: 'ladder-moved',
      actor: 'system',
      subjects: [`item:${key}`],
      body: { key, ladder, stair: stairOf(ladder), from: before?.stage ?? 'logged' },
    })
  }
}

/** Counts that only grow (how much a service was exercised) do not make a ladder another one. */
function isSameLadder(a: Ladder, b: Ladder): boolean {
  return comparable(a) === comparable(b)
}

function comparable(ladder: Ladder): string {
  return JSON.stringify(ladder, (name, value: unknown) => (name === 'exercised' ? undefined : value))
}

/** Items that a repository's movement may concern: tied to its branches, commits or pull requests and not yet settled, or settled while something there can still be taken back. */
export function itemsOfRepository(ctx: Reading, repository: string): string[] {
  return sql<object, { from_id: string }>(
    ctx.db,
    `SELECT DISTINCT from_id FROM link_assertion WHERE retracted_at_ms IS NULL AND from_kind = 'item' AND to_kind IN ('branch', 'commit', 'pull-request')
    AND to_id >= @from AND to_id < @to ORDER BY from_id`,
  )
    .all({ from: `${repository}/`, to: `${repository}0` })
    .map((row) => row.from_id)
}

/** Looks again at items whose fault is being watched: silence passes without an event (rule 17: the timer's decision is journalled). */
export function judgeWaitingItems(ctx: ServiceContext): void {
  const keys = sql<object, { key: string }>(
    ctx.db,
    `SELECT key FROM item WHERE is_open = 1 AND fault IS NOT NULL AND stage_rank IN (4, 5) ORDER BY key`,
  )
    .all({})
    .map((row) => row.key)
  if (keys.length > 0) ctx.journal.write((writer) => writer.touch(keys))
}
