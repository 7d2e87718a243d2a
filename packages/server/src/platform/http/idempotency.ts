import { createHash } from 'node:crypto'
import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'

const KEPT_MS = 24 * 3600_000
const KEY_MAX = 200

export interface Idempotent {
  /** What the same request was answered before; null the first time. */
  answer: { status: number; body: string } | null
  remember(status: number, body: string): void
}

/**
 * Lets a change with an `Idempotency-Key` happen once: the same key with the same request within a day gets the answer of the first. Null
 * without a key. Throws `conflict` when the
 * key came with another request, `invalid-input` when it is too long. A server that dies between the change and its answer may do the
 * change again, except where the journal itself
 * keeps the key (logging an item).
 */
export function beginIdempotent(
  ctx: ServiceContext,
  who: Who,
  key: string,
  request: { method: string; path: string; body: unknown },
): Idempotent | null {
  if (key === '') return null
  if (key.length > KEY_MAX) throw new Problem('invalid-input', { fields: { 'Idempotency-Key': `At most ${KEY_MAX} characters` } })
  const requestHash = createHash('sha256')
    .update(JSON.stringify([request.method, request.path, request.body]))
    .digest('base64url')
  const askedBy = who.actor
  const known = sql(
    ctx.db,
    'SELECT request_hash, status, body FROM answered_request WHERE asked_by = @askedBy AND key = @key AND at_ms > @since',
  ).get<{ request_hash: string; status: number; body: string }>({ askedBy, key, since: ctx.nowMs() - KEPT_MS })
  if (known && known.request_hash !== requestHash)
    throw new Problem('conflict', { detail: 'This Idempotency-Key came with another request before. Nothing was changed; use a new key.' })
  return {
    answer: known ?? null,
    remember: (status, body) => {
      sql(ctx.db, 'DELETE FROM answered_request WHERE at_ms <= @before').run({ before: ctx.nowMs() - KEPT_MS })
      sql(
        ctx.db,
        'INSERT OR REPLACE INTO answered_request (asked_by, key, request_hash, status, body, at_ms) VALUES (@askedBy, @key, @requestHash, @status, @body, @atMs)',
      ).run({ askedBy, key, requestHash, status, body, atMs: ctx.nowMs() })
    },
  }
}
