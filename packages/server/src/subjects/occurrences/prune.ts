import {
  PRUNE_BATCH,
  SWEEP_STEP,
  PRUNE_DELETE_OLD,
  PRUNE_DELETE_TRAFFIC,
  PRUNE_DELETE_TRAILS,
  PRUNE_GET_TRAILS_END,
  PRUNE_LIST_CROWDED,
  PRUNE_DELETE_BEYOND,
  SWEEP_LIST_IN_USE,
  SWEEP_LIST_SHOWN,
  SWEEP_TRACES_LIST,
  SWEEP_TRACES_REMOVE,
  SWEEP_RESOURCES_LIST,
  SWEEP_RESOURCES_REMOVE,
} from './prune.queries.js'
import type { Db } from '#platform/db/open'
import type { VolumeWriter } from './volume-writer.js'

/** So many spans and log records around errors are kept, the newest: some 60 MB. */
const TRAILS_MAX = 200_000

/**
 * Removes occurrences that arrived before a time, and of each fault those beyond the newest so many; at most 5,000 at a time. Gives how
 * many went; counters and charts keep what they counted.
 */
export function prune(db: Db, { beforeMs, perGroupMax }: { beforeMs: number; perGroupMax: number }): number {
  const queries = preparePruneQueries(db)
  const old = queries.deleteOld.run({ beforeMs }).changes
  if (old >= PRUNE_BATCH) return old
  const counted = queries.deleteTraffic.run({ beforeHour: Math.floor(beforeMs / 3_600_000) }).changes
  if (counted >= PRUNE_BATCH) return counted
  const ends = queries.getTrailsEnd.get({ max: TRAILS_MAX })?.atMs ?? 0
  const trails = queries.deleteTrails.run({ beforeMs: Math.max(beforeMs, ends) }).changes
  if (trails >= PRUNE_BATCH) return trails
  let gone = old
  for (const { fingerprint } of queries.listCrowded.all({ perGroupMax })) {
    if (gone >= PRUNE_BATCH) break
    gone += queries.deleteBeyond.run({ fingerprint, perGroupMax }).changes
  }
  return gone
}

/**
 * Removes traces and resources that no occurrence has any more: marks what is in use step by step, what arrives meanwhile along with it,
 * then removes the rest.
 */
export class Sweep {
  readonly #writer: Pick<VolumeWriter, 'noteUse'>
  readonly #statements
  #used: Set<string> | null = null
  #after = 0

  constructor(db: Db, writer: Pick<VolumeWriter, 'noteUse'>) {
    this.#writer = writer
    this.#statements = prepareSweepQueries(db)
  }

  /** One step in a transaction of its own; true when all is done. Memory: one entry for each trace and resource in use. */
  step(): boolean {
    if (this.#used === null) {
      this.#used = new Set()
      this.#after = 0
      this.#writer.noteUse(this.#used)
    }
    const rows = this.#statements.listInUse.all({ after: this.#after })
    for (const { id, trace, resource } of rows) {
      this.#used.add(trace).add(resource)
      this.#after = id
    }
    if (rows.length === SWEEP_STEP) return false
    for (const { digest } of this.#statements.listShown.all()) this.#used.add(digest)
    const used = this.#used
    for (const { list, remove } of [this.#statements.traces, this.#statements.resources])
      for (const { digest } of list.all()) if (!used.has(digest)) remove.run({ digest })
    this.#used = null
    this.#writer.noteUse(null)
    return true
  }
}

/** What forgetting occurrences deletes; at most one batch each, along the indices of arrival and of the fingerprint. */
function preparePruneQueries(db: Db) {
  return {
    deleteOld: db.prepare<{ beforeMs: number }>(PRUNE_DELETE_OLD),
    deleteTraffic: db.prepare<{ beforeHour: number }>(PRUNE_DELETE_TRAFFIC),
    deleteTrails: db.prepare<{ beforeMs: number }>(PRUNE_DELETE_TRAILS),
    getTrailsEnd: db.prepare<{ max: number }, { atMs: number }>(PRUNE_GET_TRAILS_END),
    listCrowded: db.prepare<{ perGroupMax: number }, { fingerprint: string }>(PRUNE_LIST_CROWDED),
    deleteBeyond: db.prepare<{ fingerprint: string; perGroupMax: number }>(PRUNE_DELETE_BEYOND),
  }
}

/** What finding unused traces and resources reads: occurrences in steps by the primary key, then the two tables once. */
function prepareSweepQueries(db: Db) {
  return {
    listInUse: db.prepare<{ after: number }, { id: number; trace: string; resource: string }>(SWEEP_LIST_IN_USE),
    // The trace that a group shows stays, though its occurrence has gone.
    listShown: db.prepare<[], { digest: string }>(SWEEP_LIST_SHOWN),
    traces: {
      list: db.prepare<[], { digest: string }>(SWEEP_TRACES_LIST),
      remove: db.prepare<{ digest: string }>(SWEEP_TRACES_REMOVE),
    },
    resources: {
      list: db.prepare<[], { digest: string }>(SWEEP_RESOURCES_LIST),
      remove: db.prepare<{ digest: string }>(SWEEP_RESOURCES_REMOVE),
    },
  }
}
