import { createHash } from 'node:crypto'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'

/** What an entry's hash is made over: all that was written of it, as it was written. */
export interface Linked {
  kind: string
  atMs: number
  recordedAtMs: number
  actor: string
  cause: string | null
  source: string | null
  subjects: string
  idempotencyKey: string | null
  body: string
}
/** The newest entry and its hash: kept elsewhere, it proves that nothing before it was changed since. */
export interface Head {
  seq: number
  chain: string
}

const COLUMNS =
  'kind, at_ms AS atMs, recorded_at_ms AS recordedAtMs, actor, cause, source, subjects, idempotency_key AS idempotencyKey, body'
const AT_ONCE = 2000

/**
 * The hash of an entry that follows another (SHA-256 over that one's hash and its own fields as a JSON array, so that no field can
 * take a part of its neighbour). Whoever changes, removes or inserts an entry would have to change all that follow.
 */
export function chainAfter(before: string, entry: Linked): string {
  const { kind, atMs, recordedAtMs, actor, cause, source, subjects, idempotencyKey, body } = entry
  return linkHash([before, kind, atMs, recordedAtMs, actor, cause, source, subjects, idempotencyKey, body])
}

/** SHA-256 of fields as a JSON array, the hash before them first: no field can take a part of its neighbour. */
export function linkHash(fields: readonly (string | number | null)[]): string {
  return createHash('sha256').update(JSON.stringify(fields)).digest('hex')
}

/** The head of the chain; seq 0 and an empty hash for an empty journal. */
export function headOf(db: Db): Head {
  return (
    sql(db, "SELECT seq, coalesce(chain, '') AS chain FROM journal WHERE seq = (SELECT max(seq) FROM journal)").get<Head>({}) ?? {
      seq: 0,
      chain: '',
    }
  )
}

/** Chains what was written before there was a chain. Cost: one pass over those entries, once. */
export function chainOlder(db: Db): void {
  // They are the first of all: one that is chained has only chained ones after it.
  const first = sql(db, 'SELECT chain FROM journal WHERE seq = (SELECT min(seq) FROM journal)').get<{ chain: string | null }>({})
  if (!first || first.chain !== null) return
  db.transaction(() => {
    let before = ''
    for (const row of rowsOf(db)) {
      before = row.chain ?? chainAfter(before, row)
      if (row.chain === null) sql(db, 'UPDATE journal SET chain = @chain WHERE seq = @seq').run({ seq: row.seq, chain: before })
    }
  }).immediate()
}

/**
 * The first place where the chain does not hold, in words; null when it does. With a head that was kept elsewhere, also whether that entry
 * is still the one that it was.
 */
export function findBrokenLink(db: Db, kept: Head | null = null): string | null {
  let before = ''
  let isKeptSeen = kept === null
  for (const row of rowsOf(db)) {
    const expected = chainAfter(before, row)
    if (row.chain !== expected)
      return `entry ${row.seq} (${row.kind}, ${new Date(row.recordedAtMs).toISOString()}) is not what was written, or one before it is gone`
    if (kept?.seq === row.seq) {
      if (kept.chain !== expected) return `entry ${row.seq} is not the one whose head was kept`
      isKeptSeen = true
    }
    before = expected
  }
  return isKeptSeen ? null : `entry ${kept?.seq}, whose head was kept, is gone`
}

function* rowsOf(db: Db): Generator<Linked & { seq: number; chain: string | null }> {
  let after = 0
  for (;;) {
    const rows = sql(db, `SELECT seq, chain, ${COLUMNS} FROM journal WHERE seq > @after ORDER BY seq LIMIT @atOnce`).all<
      Linked & { seq: number; chain: string | null }
    >({ after, atOnce: AT_ONCE })
    if (rows.length === 0) return
    yield* rows
    after = rows.at(-1)?.seq ?? after
  }
}
