import type { AuditEntry, AuditKind } from '@dystracer/core/people/audit-wire'
import type { Context } from 'koa'
import { asCsv } from '#platform/csv'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { sql } from '#platform/db/statements'
import { DELETE_OLD_AUDIT_ENTRIES, INSERT_AUDIT_ENTRY, LIST_AUDIT_ENTRY, LIST_AUDIT_ENTRY_AFTER } from './audit.queries.js'

const TEXT_MAX = 300
const AT_ONCE = 500
/** Strangers who are refused write lines, too: so many are kept, some years of a busy installation. */
const KEPT_MAX = 500_000
const TRIM_EVERY = 1_000

export interface Noted {
  kind: AuditKind
  actor: string
  place: string
  about?: string | null
  facts?: Record<string, string>
}

/** Notes what concerns the security of the installation. Secrets never stand in it: neither passwords nor tokens, only their names. */
export function noteAudit(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, { kind, actor, place, about = null, facts = {} }: Noted): void {
  const cut = (text: string) => text.slice(0, TEXT_MAX)
  const { lastInsertRowid } = sql(ctx.db, INSERT_AUDIT_ENTRY).run({
    nowMs: ctx.nowMs(),
    kind,
    actor: cut(actor),
    about: about === null ? null : cut(about),
    place: cut(place),
    facts: JSON.stringify(Object.fromEntries(Object.entries(facts).map(([name, value]) => [name, cut(value)]))),
  })
  if (Number(lastInsertRowid) % TRIM_EVERY === 0) sql(ctx.db, DELETE_OLD_AUDIT_ENTRIES).run({ kept: KEPT_MAX })
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
