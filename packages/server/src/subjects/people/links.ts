import { randomBytes } from 'node:crypto'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { DELETE_LINK, DELETE_LINKS_OF_PERSON, GET_PERSON_OF_LINK, INSERT_LINK } from './links.queries.js'
import { digestOf } from './secrets.js'

const DAY_MS = 86_400_000
/** What a link that is used once is for, and how long it holds. */
const KINDS = { invite: { keptMs: 14 * DAY_MS }, reset: { keptMs: 3_600_000 } } as const
export type LinkKind = keyof typeof KINDS

/** The secret of a link for somebody that is used once; earlier ones of its kind open nothing any more. */
export function makeLink(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, kind: LinkKind, personId: string): string {
  const secret = randomBytes(24).toString('base64url')
  sql(ctx.db, DELETE_LINKS_OF_PERSON).run({ personId, names: `${kind}/%` })
  sql(ctx.db, INSERT_LINK).run({ name: nameOf(kind, secret), personId, expiresAtMs: ctx.nowMs() + KINDS[kind].keptMs })
  return secret
}

/** Whom a link is for; undefined once it is used, over, or none of ours. */
export function personOfLink(
  ctx: Pick<ServiceContext, 'db' | 'nowMs'>,
  kind: LinkKind,
  secret: string,
): { person_id: string; name: string; email: string } | undefined {
  return sql(ctx.db, GET_PERSON_OF_LINK).get<{ person_id: string; name: string; email: string }>({
    name: nameOf(kind, secret),
    nowMs: ctx.nowMs(),
  })
}

/** Uses a link up; false for whoever comes second with it. */
export function useUpLink(ctx: Pick<ServiceContext, 'db'>, kind: LinkKind, secret: string): boolean {
  return sql(ctx.db, DELETE_LINK).run({ name: nameOf(kind, secret) }).changes === 1
}

function nameOf(kind: LinkKind, secret: string): string {
  return `${kind}/${digestOf(secret)}`
}
