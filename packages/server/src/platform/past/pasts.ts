import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { Problem } from '@dystracer/core/basics/problem'
import { slot, type ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { WorkerClient } from '#platform/threads/worker-client'
import { hideAnew, openPastDb, openPastVolume } from './past-db.js'
import type { PastMethods } from './past.protocol.js'

/** So many moments are kept ready; the one that was asked for longest ago makes room. */
const KEPT_MAX = 4
/** A replay of a long journal takes its time. */
const DEADLINE_MS = 30 * 60_000

interface Kept {
  seq: number
  path: string
  ctx: ServiceContext
  askedAt: number
  /** Somebody's right to see a confidential item may have changed since it was looked at. */
  isStale: boolean
  close: () => void
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
  readonly #kept = new Map<number, Kept>()
  readonly #making = new Map<number, { done: number; total: number; trouble: unknown }>()
  #turn: Promise<unknown> = Promise.resolve()
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
      if (!entries.some(({ kind }) => kind === 'item-changed')) return
      for (const kept of this.#kept.values()) kept.isStale = true
    })
  }

  /** Begins to make a moment ready, or says how far that is. Throws `invalid-input` for one that is not past, or before everything. */
  open(atMs: number): Opened {
    const seq = this.#seqAt(atMs)
    const kept = this.#kept.get(seq)
    if (kept) return { seq, atMs, done: seq, total: seq, isReady: true }
    const making = this.#making.get(seq) ?? this.#begin(seq, atMs)
    if (making.trouble !== null) {
      this.#making.delete(seq)
      throw making.trouble instanceof Problem
        ? making.trouble
        : new Problem('busy', { detail: 'The moment could not be made ready. Try again in a minute.', cause: making.trouble })
    }
    return { seq, atMs, done: making.done, total: making.total, isReady: false }
  }

  /** What services read at a moment. Throws `past-not-open` where it is not ready. */
  contextAt(atMs: number): ServiceContext {
    const kept = this.#kept.get(this.#seqAt(atMs))
    if (!kept) throw new Problem('past-not-open', { detail: 'This moment is not ready. Open it first: POST /api/v1/past.' })
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

  #seqAt(atMs: number): number {
    if (atMs > this.#ctx.nowMs()) throw new Problem('invalid-input', { fields: { at: 'That is not past yet' } })
    const found = sql(this.#ctx.db, 'SELECT seq FROM journal WHERE recorded_at_ms <= @atMs ORDER BY seq DESC LIMIT 1').get<{ seq: number }>(
      { atMs },
    )
    if (!found) throw new Problem('invalid-input', { fields: { at: 'Nothing was known here yet at that time' } })
    return found.seq
  }

  #begin(seq: number, atMs: number): { done: number; total: number; trouble: unknown } {
    const state = { done: 0, total: seq, trouble: null as unknown }
    this.#making.set(seq, state)
    // One after the other: each may go on from the one before.
    this.#turn = this.#turn
      .then(() => this.#make({ seq, atMs }, state))
      .catch((error: unknown) => {
        state.trouble = error
      })
    return state
  }

  async #make({ seq, atMs }: { seq: number; atMs: number }, state: { done: number }): Promise<void> {
    mkdirSync(this.#dir, { recursive: true, mode: 0o700 })
    const before = [...this.#kept.values()].filter((kept) => kept.seq < seq).sort((a, b) => b.seq - a.seq)[0]
    const path = join(this.#dir, `${seq}.db`)
    await this.#worker.call(
      'build',
      { mainPath: this.#mainPath, path, seq, from: before ? { path: before.path, seq: before.seq } : null },
      {
        deadlineMs: DEADLINE_MS,
        onProgress: (done) => {
          state.done = Number(done)
        },
      },
    )
    this.#keep({ seq, atMs, path })
    this.#making.delete(seq)
  }

  #keep({ seq, atMs, path }: { seq: number; atMs: number; path: string }): void {
    const db = openPastDb(path, this.#mainPath, seq)
    const own = new Map<unknown, unknown>()
    const ctx: ServiceContext = {
      ...this.#ctx,
      db,
      volume: openPastVolume(this.#ctx.volume.name, atMs),
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
      rmSync(path, { force: true })
    }
    this.#kept.set(seq, { seq, path, ctx, askedAt: ++this.#asked, isStale: false, close })
    while (this.#kept.size > KEPT_MAX) {
      const oldest = [...this.#kept.values()].reduce((a, b) => (a.askedAt < b.askedAt ? a : b))
      oldest.close()
      this.#kept.delete(oldest.seq)
    }
  }
}

/** The moments of a server. */
export const pastsSlot = slot('moments of the past', (ctx) => new Pasts(ctx))
