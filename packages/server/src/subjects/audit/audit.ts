import type { AuditEntry, AuditKind } from '@dystracer/core/people/audit-wire'
import type { Context } from 'koa'
import { asCsv } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { cleanText } from '#platform/http/clean-texts'
import { linkHash } from '#platform/journal/chain'
import {
  DELETE_OLD_AUDIT_ENTRIES,
  GET_NEWEST_CHAIN,
  GET_OLDEST_CHAIN,
  HAS_AUDIT_CHAIN,
  INSERT_AUDIT_ENTRY,
  INSERT_AUDIT_ENTRY_UNCHAINED,
  LIST_AUDIT_ENTRY,
  LIST_AUDIT_ENTRY_AFTER,
  LIST_AUDIT_ENTRY_WITH_CHAIN,
  UPDATE_AUDIT_CHAIN,
} from './audit.queries.js'

const TEXT_MAX = 300
const AT_ONCE = 500
/** Strangers who are refused write lines, too: so many are kept, some years of a busy installation. */
const KEPT_MAX = 500_000
const TRIM_EVERY = 1_000

/** A line of the trail as it is stored. */
interface Line {
  atMs: number
  kind: string
  actor: string
  about: string | null
  place: string
  facts: string
}

export interface Noted {
  kind: AuditKind
  actor: string
  place: string
  about?: string | null
  facts?: Record<string, string>
}

/**
 * Notes what concerns the security of the installation. Secrets never stand in it: neither passwords nor
 * tokens, only their names. Each line carries a hash over itself and the one before.
 */
export function noteAudit(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, noted: Noted): void {
  const line = lineOf(noted, ctx.nowMs())
  const { lastInsertRowid } = ctx.db
    .transaction(() => {
      const before = sql(ctx.db, GET_NEWEST_CHAIN).get<{ chain: string | null }>({})?.chain ?? ''
      return sql(ctx.db, INSERT_AUDIT_ENTRY).run({ ...line, chain: chainAfter(before, line) })
    })
    .immediate()
  if (Number(lastInsertRowid) % TRIM_EVERY === 0) sql(ctx.db, DELETE_OLD_AUDIT_ENTRIES).run({ kept: KEPT_MAX })
}

/** The same in a state that an older program wrote, whose lines carry no hashes. */
export function noteInOlderState(db: Db, noted: Noted): void {
  sql(db, INSERT_AUDIT_ENTRY_UNCHAINED).run({ ...lineOf(noted, Date.now()) })
}

function lineOf({ kind, actor, place, about = null, facts = {} }: Noted, atMs: number): Line {
  // What a line is hashed over has to be what the database gives back: no half of a character, and nothing that ends a text there.
  const cut = (text: string) => cleanText(text.slice(0, TEXT_MAX))
  return {
    atMs,
    kind,
    actor: cut(actor),
    about: about === null ? null : cut(about),
    place: cut(place),
    facts: JSON.stringify(Object.fromEntries(Object.entries(facts).map(([name, value]) => [name, cut(value)]))),
  }
}

function chainAfter(before: string, { atMs, kind, actor, about, place, facts }: Line): string {
  return linkHash([before, atMs, kind, actor, about, place, facts])
}

/** Whether the lines of a database carry hashes; those of an older program do not. */
export function isTrailChained(db: Db): boolean {
  return sql(db, HAS_AUDIT_CHAIN).get({}) !== undefined
}

/** Chains the lines that were written before there were hashes. Cost: one pass over those, once. */
export function chainOlderAudit(db: Db): void {
  const first = sql(db, GET_OLDEST_CHAIN).get<{ chain: string | null }>({})
  // They are the first of all: one that is chained has only chained ones after it.
  if (!first || first.chain !== null) return
  db.transaction(() => {
    let before = ''
    for (const row of linesOf(db)) {
      before = row.chain ?? chainAfter(before, row)
      if (row.chain === null) sql(db, UPDATE_AUDIT_CHAIN).run({ auditId: row.auditId, chain: before })
    }
  }).immediate()
}

/**
 * The first place where the trail is not as it was written, in words; null where it is. Who takes away the newest lines is not found out:
 * nothing follows them. Cost: one pass, SHA-256 of each line.
 */
export function findBrokenAudit(db: Db): string | null {
  if (!isTrailChained(db)) return null
  let last = { auditId: 0, chain: '' }
  for (const row of linesOf(db)) {
    // What is older than the trail is kept goes in whole thousands; the first line that is left stands for those before it.
    const isTrimmed = last.auditId === 0 && row.auditId > 1 && row.auditId % TRIM_EVERY === 1
    if (row.auditId !== last.auditId + 1 && !isTrimmed) return `lines before line ${row.auditId} are gone`
    const expected = isTrimmed ? row.chain : chainAfter(last.chain, row)
    if (expected === null || row.chain !== expected)
      return `line ${row.auditId} (${row.kind}, ${new Date(row.atMs).toISOString()}) is not what was written`
    last = { auditId: row.auditId, chain: expected }
  }
  return null
}

function* linesOf(db: Db): Generator<Line & { auditId: number; chain: string | null }> {
  for (let after = 0; ; ) {
    const rows = sql(db, LIST_AUDIT_ENTRY_WITH_CHAIN).all<Line & { auditId: number; chain: string | null }>({ after, limit: AT_ONCE })
    if (rows.length === 0) return
    yield* rows
    after = rows.at(-1)?.auditId ?? after
  }
}

/** The program and network address that a request comes from, as a session is told apart by its owner. */
export function placeOf(koa: Context): string {
  return `${koa.get('user-agent').slice(0, 150) || 'an unnamed program'} at ${koa.ip}`
}

type Row = Omit<AuditEntry, 'facts'> & { facts: string }
const toEntry = (row: Row): AuditEntry => ({ ...row, facts: JSON.parse(row.facts) as Record<string, string> })

/** The trail, newest first, all of it or one kind. */
export function listAudit(
  ctx: ServiceContext,
  input: { limit: number; cursor?: string | undefined; kind?: AuditKind | undefined },
): { rows: AuditEntry[]; nextCursor: string | null } {
  const [before] = decodeCursor(input.cursor, 1) ?? [Number.MAX_SAFE_INTEGER]
  const rows = sql(ctx.db, LIST_AUDIT_ENTRY).all<Row>({ before: Number(before), kind: input.kind ?? null, limit: input.limit + 1 })
  return pageOf(rows, input.limit, toEntry, (row) => [row.auditId])
}

/** The whole trail as CSV, a page at a time. */
export function* auditAsCsv(ctx: ServiceContext): Generator<string> {
  const fields = ['at', 'kind', 'actor', 'about', 'place', 'facts']
  yield asCsv(fields, [])
  for (let after = 0; ; ) {
    const rows = sql(ctx.db, LIST_AUDIT_ENTRY_AFTER).all<Row>({ after, limit: AT_ONCE })
    if (rows.length === 0) return
    yield asCsv(
      fields,
      rows.map(({ atMs, ...row }) => ({ ...row, at: new Date(atMs).toISOString() })),
      { hasHead: false },
    )
    after = rows.at(-1)?.auditId ?? after
  }
}
