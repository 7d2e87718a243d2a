import type { LadderEvents } from '@dystracer/core/ladder/events'
import { stageRank } from '@dystracer/core/ladder/ladder'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of ladder stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const ladderAppliers: Appliers<LadderEvents> = {
  'ladder-moved': (db, entry) => {
    const { key, ladder, stair } = entry.body
    const isSettled = ladder.disposition !== null || (ladder.stage === 'verified' && !ladder.hasComeBack)
    sql(
      db,
      `UPDATE item SET stage = @stage, stage_rank = @rank, stair = @stair, ladder = @ladder, has_come_back = @back,
        has_drift = @drift, is_open = @open, revision = revision + 1,
        updated_at_ms = max(updated_at_ms, @atMs) WHERE key = @key`,
    ).run({
      key,
      stage: ladder.stage,
      rank: stageRank(ladder.stage),
      stair,
      ladder: JSON.stringify(ladder),
      back: Number(ladder.hasComeBack),
      drift: Number(ladder.drift.length > 0),
      open: Number(!isSettled),
      atMs: entry.atMs,
    })
  },
}
