import { createHash } from 'node:crypto'
import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'

const KEPT_MS = 24 * 3600_000
const KEY_MAX = 200

/** What a request was answered. */
export interface Answered {
  status: number
  body: string
}
/** A request that is to count once. */
export interface KeyedRequest {
  /** Who asks, told apart from everybody else who might use the same key. */
  askedBy: string
  key: string
  method: string
  path: string
  body: unknown
}

/**
 * Lets a change with an `Idempotency-Key` happen once: the same key with the same request within a day gets the answer of the first; one
 * that comes while the first is under way waits for it. A change that failed is not remembered, so it may be tried again. A server that
 * dies between the change and its answer may do the change again, except where the journal itself keeps the key (logging an item).
 */
export class Idempotency {
  readonly #ctx: Pick<ServiceContext, 'db' | 'nowMs'>
  readonly #underWay = new Map<string, { requestHash: string; answer: Promise<Answered | null> }>()

  constructor(ctx: Pick<ServiceContext, 'db' | 'nowMs'>) {
    this.#ctx = ctx
  }

  /**
   * The answer of the first such request, else that of `act`. Throws `conflict` when the key came with another request, `invalid-input`
   * when it is too long, and whatever `act` throws.
   */
  async once({ askedBy, key, method, path, body }: KeyedRequest, act: () => Promise<Answered>): Promise<Answered> {
    if (key.length > KEY_MAX) throw new Problem('invalid-input', { fields: { 'Idempotency-Key': `At most ${KEY_MAX} characters` } })
    const requestHash = createHash('sha256')
      .update(JSON.stringify([method, path, body]))
      .digest('base64url')
    const id = JSON.stringify([askedBy, key])
    const first = this.#underWay.get(id)
    if (first) {
      if (first.requestHash !== requestHash) throw otherRequest()
      const answer = await first.answer
      // The first failed: whoever waited may try in its place, one after the other.
      return answer ?? this.once({ askedBy, key, method, path, body }, act)
    }
    const known = this.#find(askedBy, key)
    if (known && known.request_hash !== requestHash) throw otherRequest()
    if (known) return { status: known.status, body: known.body }
    const acting = act()
    this.#underWay.set(id, { requestHash, answer: acting.catch(() => null) })
    try {
      const answer = await acting
      this.#remember({ askedBy, key, requestHash, ...answer })
      return answer
    } finally {
      this.#underWay.delete(id)
    }
  }

  #find(askedBy: string, key: string): (Answered & { request_hash: string }) | undefined {
    return sql(
      this.#ctx.db,
      'SELECT request_hash, status, body FROM answered_request WHERE asked_by = @askedBy AND key = @key AND at_ms > @since',
    ).get<Answered & { request_hash: string }>({ askedBy, key, since: this.#ctx.nowMs() - KEPT_MS })
  }

  #remember(row: Answered & { askedBy: string; key: string; requestHash: string }): void {
    const atMs = this.#ctx.nowMs()
    sql(this.#ctx.db, 'DELETE FROM answered_request WHERE at_ms <= @before').run({ before: atMs - KEPT_MS })
    sql(
      this.#ctx.db,
      `INSERT OR REPLACE INTO answered_request (asked_by, key, request_hash, status, body, at_ms)
        VALUES (@askedBy, @key, @requestHash, @status, @body, @atMs)`,
    ).run({ ...row, atMs })
  }
}

function otherRequest(): Problem {
  return new Problem('conflict', { detail: 'This Idempotency-Key came with another request before. Nothing was changed; use a new key.' })
}
