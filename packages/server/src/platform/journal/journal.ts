import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { EventBodies, EventDraft, EventKind, JournalEntry } from '@dystracer/core/contract/events'
import { chainAfter, headOf } from './chain.js'
import { lastSeq } from './journal.queries.js'

/** How each kind of event is brought into the tables: one function for each, so that an event without a place does not compile. */
export type Appliers<Events> = { [Kind in keyof Events & EventKind]: (db: Db, entry: JournalEntry<Kind>) => void }
export type AllAppliers = Appliers<EventBodies>

/** What a command sees while it writes. */
export interface JournalWriter {
  /** Appends and applies one event; null when its idempotency key is known already. */
  append<Kind extends EventKind>(draft: EventDraft<Kind>): JournalEntry<Kind> | null
  /** Marks items whose evidence may have changed; their ladders are computed before the commit. */
  touch(itemKeys: Iterable<string>): void
}

/** `actor` is who or what the first entry of the write names. */
export type BeforeCommit = (writer: JournalWriter, touched: ReadonlySet<string>, actor: string) => void
export type AfterCommit = (entries: readonly JournalEntry[]) => void
/** Rejects promises at compile time: a SQLite transaction is never held across an await. */
type NotPromise<T> = T extends PromiseLike<unknown> ? never : T

/** The one write path: everything that changes the tables is an event appended here, in the same transaction that applies it. */
export class Journal {
  readonly #db: Db
  readonly #nowMs: () => number
  readonly #appliers: AllAppliers
  #beforeCommit: BeforeCommit = () => {}
  readonly #afterCommit = new Set<AfterCommit>()

  constructor({ db, nowMs, appliers }: { db: Db; nowMs: () => number; appliers: AllAppliers }) {
    this.#db = db
    this.#nowMs = nowMs
    this.#appliers = appliers
  }

  /** Registers what derives decisions (the ladders) from what a write touched, inside its transaction. */
  deriveBeforeCommit(derive: BeforeCommit): void {
    this.#beforeCommit = derive
  }

  /** Calls back with the entries of each write, once they are durable; returns its own stopper. */
  onCommit(listener: AfterCommit): () => void {
    this.#afterCommit.add(listener)
    return () => this.#afterCommit.delete(listener)
  }

  /** Whether nothing has ever happened here. */
  isEmpty(): boolean {
    return lastSeq(this.#db) === 0
  }

  /** Runs a command: all that it appends becomes durable together, or nothing does. */
  write<T>(command: (writer: JournalWriter) => NotPromise<T>): T {
    if (this.#db.inTransaction) throw new Error('a journal write cannot be nested in another')
    const entries: JournalEntry[] = []
    const touched = new Set<string>()
    const writer: JournalWriter = {
      append: (draft) => {
        const entry = this.#append(draft)
        if (!entry) return null
        entries.push(entry as unknown as JournalEntry)
        for (const subject of entry.subjects) if (subject.startsWith('item:')) touched.add(subject.slice(5))
        return entry
      },
      touch: (keys) => {
        for (const key of keys) touched.add(key)
      },
    }
    const result = this.#db
      .transaction(() => {
        const value = command(writer)
        this.#beforeCommit(writer, touched, entries[0]?.actor ?? 'system')
        return value
      })
      .immediate()
    if (entries.length > 0) for (const listener of this.#afterCommit) listener(entries)
    return result as T
  }

  #append<Kind extends EventKind>(draft: EventDraft<Kind>): JournalEntry<Kind> | null {
    const recordedAtMs = this.#nowMs()
    const subjects = [...new Set(draft.subjects)]
    const bind = {
      kind: draft.kind,
      atMs: draft.atMs ?? recordedAtMs,
      recordedAtMs,
      actor: draft.actor,
      cause: draft.cause ?? null,
      source: draft.source ?? null,
      subjects: JSON.stringify(subjects),
      idempotencyKey: draft.idempotencyKey ?? null,
      body: JSON.stringify(draft.body),
    }
    const { changes, lastInsertRowid } = sql(
      this.#db,
      `INSERT INTO journal (kind, at_ms, recorded_at_ms, actor, cause, source, subjects, idempotency_key, body, chain)
      VALUES (@kind, @atMs, @recordedAtMs, @actor, @cause, @source, @subjects, @idempotencyKey, @body, @chain)
        ON CONFLICT (idempotency_key) DO NOTHING`,
    ).run({ ...bind, chain: chainAfter(headOf(this.#db).chain, bind) })
    if (changes === 0) return null
    const entry: JournalEntry<Kind> = {
      seq: Number(lastInsertRowid),
      kind: draft.kind,
      atMs: bind.atMs,
      recordedAtMs,
      actor: draft.actor,
      cause: bind.cause,
      source: bind.source,
      subjects,
      body: draft.body,
    }
    project(this.#db, this.#appliers, entry as unknown as JournalEntry)
    return entry
  }
}

/** Applies an entry to all projections, its subjects' index included. */
export function project(db: Db, appliers: AllAppliers, entry: JournalEntry): void {
  for (const subject of entry.subjects)
    sql(db, 'INSERT OR IGNORE INTO journal_subject (subject, seq) VALUES (@subject, @seq)').run({ subject, seq: entry.seq })
  const apply = appliers[entry.kind] as ((db: Db, entry: JournalEntry) => void) | undefined
  if (!apply) throw new Error(`no table takes the event ${entry.kind}`)
  apply(db, entry)
}
