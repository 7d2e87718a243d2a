import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { LRUCache } from 'lru-cache'
import { Problem } from '@dystracer/core/basics/problem'
import { slot, type ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { WorkerClient } from '#platform/threads/worker-client'
import { hideAnew, openPastDb, openPastVolume } from './past-db.js'
import type { Known, PastMethods } from './past.protocol.js'

/** So many moments are kept ready; the one that was asked for longest ago makes room. */
const KEPT_MAX = 4
/** So long what was let go can still be read by who was at it. */
const LETS_GO_MS = 60_000
/** So many moments are remembered by what was known then. */
const MOMENTS_MAX = 1000
/** A replay of a long journal takes its time. */
const DEADLINE_MS = 30 * 60_000

interface Kept {
  known: Known
  path: string
  ctx: ServiceContext
  askedAt: number
  /** Somebody's right to see a confidential item may have changed since it was looked at. */
  isStale: boolean
  close: () => void
}
interface Making {
  done: number
  total: number
  trouble: unknown
  /** Ends when it is ready, or has failed. */
  work: Promise<void>
}
/** How far a moment is made ready. */
export interface Opened {
  seq: number
  atMs: number
  done: number
  total: number
  isReady: boolean
}

/** The moments that people look back to: each is computed once from the journal, on a thread of its own, and read like the present. */
export class Pasts {
  readonly #ctx: ServiceContext
  readonly #dir: string
  readonly #worker: WorkerClient<PastMethods>
  readonly #kept = new Map<string, Kept>()
  readonly #making = new Map<string, Making>()
  /** What was known at a moment does not change any more. */
  readonly #known = new LRUCache<number, Known>({ max: MOMENTS_MAX })
  #turn: Promise<void> = Promise.resolve()
  #asked = 0

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
    this.#dir = join(ctx.config.dataDir, 'past')
    // What a server before this one left is of no use: it may be of an older schema.
    rmSync(this.#dir, { recursive: true, force: true })
    this.#worker = ctx.threads.open<PastMethods>({
      name: 'looking back',
      entry: new URL('../../past.worker.js', import.meta.url),
      data: {},
    })
    ctx.journal.onCommit((entries) => {
      if (!entries.some(({ kind }) => kind === 'item-changed' || kind === 'item-moved')) return
      for (const kept of this.#kept.values()) kept.isStale = true
    })
  }

  /** Begins to make a moment ready, or says how far that is. Throws `invalid-input` for one that is not past, or before everything. */
  open(atMs: number): Opened {
    const known = this.#knownAt(atMs)
    const { seq, count } = known
    if (this.#kept.has(idOf(known))) return { seq, atMs, done: count, total: count, isReady: true }
    const making = this.#making.get(idOf(known)) ?? this.#begin(known)
    if (making.trouble !== null) {
      this.#making.delete(idOf(known))
      throw making.trouble instanceof Problem
        ? making.trouble
        : new Problem('busy', { detail: 'The moment could not be made ready. Try again in a minute.', cause: making.trouble })
    }
    return { seq, atMs, done: making.done, total: making.total, isReady: false }
  }

  /** What services read at a moment, as soon as it is ready: for who cannot ask again, such as a browser that opens a file. */
  async readyAt(atMs: number): Promise<ServiceContext> {
    const making = this.open(atMs).isReady ? undefined : this.#making.get(idOf(this.#knownAt(atMs)))
    await making?.work
    // Says what went wrong, if anything did.
    this.open(atMs)
    return this.contextAt(atMs)
  }

  /** What services read at a moment. Throws `past-not-open` where it is not ready. */
  contextAt(atMs: number): ServiceContext {
    const kept = this.#kept.get(idOf(this.#knownAt(atMs)))
    if (!kept) throw new Problem('past-not-open', { detail: 'This moment is not ready. Open it first: GET /api/v1/past?at=MOMENT.' })
    kept.askedAt = ++this.#asked
    if (kept.isStale) {
      hideAnew(kept.path, this.#mainPath)
      kept.isStale = false
    }
    return { ...kept.ctx, nowMs: () => atMs }
  }

  close(): void {
    for (const kept of this.#kept.values()) kept.close()
    this.#kept.clear()
    rmSync(this.#dir, { recursive: true, force: true })
  }

  get #mainPath(): string {
    return this.#ctx.db.name
  }

  #knownAt(atMs: number): Known {
    const before = this.#known.get(atMs)
    if (before) return before
    if (atMs > this.#ctx.nowMs()) throw new Problem('invalid-input', { fields: { at: 'That is not past yet' } })
    const found = sql(this.#ctx.db, 'SELECT max(seq) AS seq, count(*) AS count FROM journal WHERE recorded_at_ms <= @atMs').get<{
      seq: number | null
      count: number
    }>({ atMs })
    if (!found || found.seq === null) throw new Problem('invalid-input', { fields: { at: 'Nothing was known here yet at that time' } })
    const known = { atMs, seq: found.seq, count: found.count }
    this.#known.set(atMs, known)
    return known
  }

  #begin(known: Known): Making {
    const state: Making = { done: 0, total: known.count, trouble: null, work: Promise.resolve() }
    this.#making.set(idOf(known), state)
    // One after the other: each may go on from the one before.
    this.#turn = this.#turn
      .then(() => this.#make(known, state))
      .catch((error: unknown) => {
        state.trouble = error
      })
    state.work = this.#turn
    return state
  }

  async #make(known: Known, state: Making): Promise<void> {
    mkdirSync(this.#dir, { recursive: true, mode: 0o700 })
    const path = join(this.#dir, `${idOf(known)}.db`)
    const from = this.#before(known)
    await this.#worker.call(
      'build',
      { mainPath: this.#mainPath, path, known, from: from ? { path: from.path, known: from.known } : null },
      {
        deadlineMs: DEADLINE_MS,
        onProgress: (done) => {
          state.done = Number(done)
        },
      },
    )
    this.#keep(known, path)
    this.#making.delete(idOf(known))
  }

  /** The latest of those kept that knows the same of all that came up to its last entry: the rest can be applied to a copy of it. */
  #before({ seq, atMs }: Known): Kept | undefined {
    const isBeginning = (kept: Kept) =>
      sql(this.#ctx.db, 'SELECT count(*) AS count FROM journal WHERE seq <= @seq AND recorded_at_ms <= @atMs').get<{ count: number }>({
        seq: kept.known.seq,
        atMs,
      })?.count === kept.known.count
    return [...this.#kept.values()]
      .filter((kept) => kept.known.seq < seq && kept.known.atMs <= atMs)
      .sort((a, b) => b.known.seq - a.known.seq)
      .find(isBeginning)
  }

  #keep(known: Known, path: string): void {
    const db = openPastDb(path, this.#mainPath, known)
    const own = new Map<unknown, unknown>()
    const ctx: ServiceContext = {
      ...this.#ctx,
      db,
      volume: openPastVolume(this.#ctx.volume.name, known.atMs),
      journal: Object.assign(Object.create(this.#ctx.journal) as ServiceContext['journal'], {
        write: () => {
          throw new Problem('past-is-read-only')
        },
      }),
      // Workers and adapters are shared; what was read from the tables is the moment's own.
      use: (place) => {
        if (!place.isOfRows) return this.#ctx.use(place)
        if (!own.has(place)) own.set(place, place.make(ctx))
        return own.get(place) as never
      },
    }
    const close = () => {
      db.close()
      ctx.volume.close()
    }
    this.#kept.set(idOf(known), { known, path, ctx, askedAt: ++this.#asked, isStale: false, close })
    while (this.#kept.size > KEPT_MAX) {
      const oldest = [...this.#kept.values()].reduce((a, b) => (a.askedAt < b.askedAt ? a : b))
      this.#kept.delete(idOf(oldest.known))
      rmSync(oldest.path, { force: true })
      // Whoever reads from it just now finishes first; the file is gone for everybody else.
      setTimeout(oldest.close, LETS_GO_MS).unref()
    }
  }
}

/** Two moments between which nothing was recorded are one. */
function idOf({ seq, count }: Known): string {
  return `${seq}-${count}`
}

/** The moments of a server. */
export const pastsSlot = slot('moments of the past', (ctx) => new Pasts(ctx))
