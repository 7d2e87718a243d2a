import type { Db } from '../db/open.js'

/** So many go in one transaction, so that what arrives meanwhile does not wait. */
const BATCH = 5000

/** Removes occurrences that arrived before a time, and of each fault those beyond the newest so many; at most 5,000 at a time. Gives how many went; counters and charts keep what they counted. */
export function prune(db: Db, { beforeMs, perGroupMax }: { beforeMs: number; perGroupMax: number }): number {
  const old = db
    .prepare(
      `DELETE FROM occurrence WHERE occurrence_id IN (SELECT occurrence_id FROM occurrence WHERE received_at_ms < ? ORDER BY received_at_ms LIMIT ${BATCH})`,
    )
    .run(beforeMs).changes
  if (old >= BATCH) return old
  let gone = old
  const crowded = db.prepare<[number], { fingerprint: string }>('SELECT fingerprint FROM fault_group WHERE count - left_out > ?').all(perGroupMax)
  const cut = db.prepare(
    `DELETE FROM occurrence WHERE occurrence_id IN (SELECT occurrence_id FROM occurrence WHERE fingerprint = @fingerprint AND occurrence_id <=
      coalesce((SELECT occurrence_id FROM occurrence WHERE fingerprint = @fingerprint ORDER BY occurrence_id DESC LIMIT 1 OFFSET @perGroupMax), -1) ORDER BY occurrence_id LIMIT ${BATCH})`,
  )
  for (const { fingerprint } of crowded) {
    if (gone >= BATCH) break
    gone += cut.run({ fingerprint, perGroupMax }).changes
  }
  return gone
}
