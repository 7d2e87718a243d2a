import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import type { EventBodies, EventKind, JournalEntry } from '@dystracer/core/contract/events'

interface JournalRow {
  seq: number
  kind: string
  at_ms: number
  recorded_at_ms: number
  actor: string
  cause: string | null
  source: string | null
  subjects: string
  body: string
}
const COLUMNS = 'j.seq, j.kind, j.at_ms, j.recorded_at_ms, j.actor, j.cause, j.source, j.subjects, j.body'

/** Entries after a cursor, oldest first; serves the live stream's catch-up and `verify`. */
export function listEntriesAfter(db: Db, afterSeq: number, limit: number): JournalEntry[] {
  return sql(db, `SELECT ${COLUMNS} FROM journal j WHERE j.seq > @afterSeq ORDER BY j.seq LIMIT @limit`)
    .all<JournalRow>({ afterSeq, limit })
    .map(toEntry)
}

/** What happened to one thing, newest first. */
export function listEntriesOfSubject(db: Db, subject: string, beforeSeq: number, limit: number): JournalEntry[] {
  return sql(
    db,
    `SELECT ${COLUMNS} FROM journal_subject s JOIN journal j ON j.seq = s.seq
    WHERE s.subject = @subject AND s.seq < @beforeSeq ORDER BY s.seq DESC LIMIT @limit`,
  )
    .all<JournalRow>({ subject, beforeSeq, limit })
    .map(toEntry)
}

/** What one actor did, newest first, from an entry on. */
export function listEntriesOfActor(db: Db, actor: string, uptoSeq: number, limit: number): JournalEntry[] {
  return sql(db, `SELECT ${COLUMNS} FROM journal j WHERE j.actor = @actor AND j.seq <= @uptoSeq ORDER BY j.seq DESC LIMIT @limit`)
    .all<JournalRow>({ actor, uptoSeq, limit })
    .map(toEntry)
}

export function lastSeq(db: Db): number {
  return sql(db, 'SELECT coalesce(max(seq), 0) AS seq FROM journal').get<{ seq: number }>({})?.seq ?? 0
}

/** The entry written under an idempotency key, or undefined. */
export function entryByIdempotencyKey(db: Db, key: string): JournalEntry | undefined {
  const row = sql(db, `SELECT ${COLUMNS} FROM journal j WHERE j.idempotency_key = @key`).get<JournalRow>({ key })
  return row && toEntry(row)
}

export function entryBySeq(db: Db, seq: number): JournalEntry | undefined {
  const row = sql(db, `SELECT ${COLUMNS} FROM journal j WHERE j.seq = @seq`).get<JournalRow>({ seq })
  return row && toEntry(row)
}

function toEntry(row: JournalRow): JournalEntry {
  return {
    seq: row.seq,
    kind: row.kind as EventKind,
    atMs: row.at_ms,
    recordedAtMs: row.recorded_at_ms,
    actor: row.actor,
    cause: row.cause,
    source: row.source,
    subjects: JSON.parse(row.subjects) as string[],
    body: JSON.parse(row.body) as EventBodies[EventKind],
  } as JournalEntry
}
