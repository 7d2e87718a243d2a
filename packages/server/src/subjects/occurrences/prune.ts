import type { Db } from '#platform/db/open'
import type { VolumeWriter } from './volume-writer.js'

/** So many go in one transaction, so that what arrives meanwhile does not wait. */
const BATCH = 5000

/**
 * Removes occurrences that arrived before a time, and of each fault those beyond the newest so many; at most 5,000 at a time. Gives how
 * many went; counters and charts keep what they counted.
 */
export function prune(db: Db, { beforeMs, perGroupMax }: { beforeMs: number; perGroupMax: number }): number {
  const old = db
    .prepare(
      `DELETE FROM occurrence WHERE occurrence_id IN (SELECT occurrence_id FROM occurrence WHERE received_at_ms < ? ORDER BY received_at_ms LIMIT ${BATCH})`,
    )
    .run(beforeMs).changes
  if (old >= BATCH) return old
  const counted = db
    .prepare(
      `DELETE FROM traffic_value WHERE (service, attribute, hour, value) IN (SELECT service, attribute, hour, value FROM traffic_value WHERE hour < ? LIMIT ${BATCH})`,
    )
    .run(Math.floor(beforeMs / 3_600_000)).changes
  if (counted >= BATCH) return counted
  let gone = old
  const crowded = db
    .prepare<[number], { fingerprint: string }>('SELECT fingerprint FROM fault_group WHERE count - left_out > ?')
    .all(perGroupMax)
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

/** So many occurrences are looked at in one step, some tens of milliseconds. */
const STEP = 20_000

/**
 * Removes traces and resources that no occurrence has any more: marks what is in use step by step, what arrives meanwhile along with it,
 * then removes the rest.
 */
export class Sweep {
  readonly #db: Db
  readonly #writer: Pick<VolumeWriter, 'noteUse'>
  readonly #statements
  #used: Set<string> | null = null
  #after = 0

  constructor(db: Db, writer: Pick<VolumeWriter, 'noteUse'>) {
    this.#db = db
    this.#writer = writer
    this.#statements = {
      step: db.prepare<[number], { id: number; trace: string; resource: string }>(
        `SELECT occurrence_id AS id, trace_digest AS trace, resource_digest AS resource FROM occurrence WHERE occurrence_id > CAST(? AS INTEGER) ORDER BY occurrence_id LIMIT ${STEP}`,
      ),
      // The trace that a group shows stays, though its occurrence has gone.
      shown: db.prepare<[], { digest: string }>('SELECT trace_digest AS digest FROM fault_group'),
    }
  }

  /** One step in a transaction of its own; true when all is done. Memory: one entry for each trace and resource in use. */
  step(): boolean {
    if (this.#used === null) {
      this.#used = new Set()
      this.#after = 0
      this.#writer.noteUse(this.#used)
    }
    const rows = this.#statements.step.all(this.#after)
    for (const { id, trace, resource } of rows) {
      this.#used.add(trace).add(resource)
      this.#after = id
    }
    if (rows.length === STEP) return false
    for (const { digest } of this.#statements.shown.all()) this.#used.add(digest)
    for (const table of ['trace', 'resource']) this.#removeUnused(table, this.#used)
    this.#used = null
    this.#writer.noteUse(null)
    return true
  }

  #removeUnused(table: string, used: ReadonlySet<string>): void {
    const unused = this.#db
      .prepare<[], { digest: string }>(`SELECT digest FROM ${table}`)
      .all()
      .filter(({ digest }) => !used.has(digest))
    const remove = this.#db.prepare(`DELETE FROM ${table} WHERE digest = ?`)
    for (const { digest } of unused) remove.run(digest)
  }
}
