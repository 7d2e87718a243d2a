import Router from '@koa/router'
import type { Context as KoaContext } from 'koa'
import type { AnswerOf, BodyOut, Operation, ParamsOf, QueryOut } from '@dystracer/core/people/operation'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { requireRoom } from '#platform/files/room'
import { AnswerCheck } from './answer-check.js'
import { pastsSlot } from '#platform/past/pasts'
import { Idempotency } from './idempotency.js'
import { cleanTexts } from './clean-texts.js'
import { RateLimit } from './rate-limit.js'
import { idOf, readersSlot } from './readers.js'
import { readJsonBody } from './read-body.js'

/** What a handler is given: everything checked against the operation's schemas, and the asker whose right to it is established. */
export interface Asked<Declared extends Operation> {
  ctx: ServiceContext
  who: Who
  params: ParamsOf<Declared>
  query: QueryOut<Declared>
  body: BodyOut<Declared>
  koa: KoaContext
}
type Answered<Declared extends Operation> = Declared extends { media: string } ? void : AnswerOf<Declared>

/**
 * Lets an asker in to an operation, or throws: the right is asked for in the project of the thing that the path names, and what the asker
 * may not see
 * is not there. Gives the path's parameters as the thing is called now (a moved item answers under its old key).
 */
export type Gatekeeper = (asking: { declared: Operation; who: Who; params: Readonly<Record<string, string>> }) => Record<string, string>

/**
 * Joins operations to their handlers. Who may, what is checked, how often the same request counts: all that is done here, once, and never
 * by a handler.
 */
export class Api {
  readonly router = new Router({ prefix: '/api/v1' })
  readonly handled: Operation[] = []
  /** What answers what may take long, by method and path. */
  readonly #long = new Map<string, { declared: Operation; handler: (asked: Asked<Operation>) => unknown }>()
  readonly #ctx: ServiceContext
  readonly #admit: Gatekeeper
  readonly #answers: AnswerCheck
  readonly #idempotency: Idempotency
  /** How often one asker may ask; null where the operator set no limit. */
  readonly #byAsker: RateLimit | null

  constructor(ctx: ServiceContext, admit: Gatekeeper) {
    this.#ctx = ctx
    this.#admit = admit
    this.#answers = new AnswerCheck(ctx)
    this.#idempotency = new Idempotency(ctx)
    const perMinute = ctx.config.requestsPerMinute
    this.#byAsker = perMinute === 0 ? null : new RateLimit({ burst: perMinute, perMinute })
  }

  /** What a moment is read from: a page asks until that is ready, while a file that is opened waits for it. */
  #then(atMs: number, declared: Operation): ServiceContext | Promise<ServiceContext> {
    const pasts = this.#ctx.use(pastsSlot)
    return declared.media === undefined ? pasts.contextAt(atMs) : pasts.readyAt(atMs)
  }

  /** The answer to what may take long, for a thread that reads beside the main one; it is let in there. Throws what the handler throws. */
  async answerLong(id: string, asked: Pick<Asked<Operation>, 'who' | 'params' | 'query'>): Promise<unknown> {
    const long = this.#long.get(id)
    if (!long) throw new Error(`nothing that may take long is at ${id}`)
    const answer = await long.handler({ ...asked, ctx: this.#ctx, body: undefined as never, koa: undefined as never })
    this.#answers.check(long.declared, answer)
    return answer
  }

  handle<const Declared extends Operation>(
    declared: Declared,
    handler: (asked: Asked<Declared>) => Answered<Declared> | Promise<Answered<Declared>>,
  ): void {
    this.handled.push(declared)
    if (declared.mayTakeLong)
      this.#long.set(idOf(declared), { declared, handler: handler as unknown as (asked: Asked<Operation>) => unknown })
    this.router[declared.method](declared.path, async (koa) => {
      const who = koa.state.who as Who
      // Asked before anything is read: what is refused costs nothing. Guests are told apart by where they come from.
      this.#byAsker?.take(who.via === 'anonymous' ? `address:${koa.ip}` : who.actor, this.#ctx.nowMs())
      if (declared.bodyMedia !== undefined) requireRoom(this.#ctx.config)
      const params = this.#admit({ declared, who, params: cleanTexts(koa.params) as Record<string, string> })
      const rawBody = declared.body ? await readJsonBody(koa.req) : undefined
      const body = declared.body?.parse(cleanTexts(rawBody, { holdsSecrets: declared.isSecret === true }))
      const act = async (): Promise<unknown> => {
        if (declared.status) koa.status = declared.status
        const pastAtMs = koa.state.pastAtMs as number | undefined
        const query = (declared.query?.parse(cleanTexts(koa.query)) ?? {}) as QueryOut<Declared>
        const readers = declared.mayTakeLong && pastAtMs === undefined ? this.#ctx.use(readersSlot) : null
        if (readers?.isLong(declared)) {
          koa.type = 'application/json'
          return readers.read(declared, { who, params, query: query as object }, koa.res)
        }
        const startedMs = performance.now()
        const answer = await handler({
          ctx: pastAtMs === undefined || declared.isOfNow ? this.#ctx : await this.#then(pastAtMs, declared),
          who,
          params: params as ParamsOf<Declared>,
          query,
          body: body as BodyOut<Declared>,
          koa,
        })
        readers?.noteTaken(declared, performance.now() - startedMs)
        if (declared.media === undefined) this.#answers.check(declared, answer)
        return answer
      }
      const key = koa.get('idempotency-key')
      const isKept = declared.method !== 'get' && declared.media === undefined && declared.bodyMedia === undefined && !declared.isSecret
      if (key === '' || !isKept) {
        const answer = await act()
        if (declared.media === undefined) koa.body = answer as object
        return
      }
      // Guests are all called the same: what one was answered is not for another.
      const askedBy = who.via === 'anonymous' ? `${who.actor} at ${koa.ip}` : who.actor
      const answered = await this.#idempotency.once({ askedBy, key, method: declared.method, path: koa.path, body: rawBody }, async () => {
        const answer = await act()
        return { status: declared.status ?? (koa.status === 404 ? 200 : koa.status), body: JSON.stringify(answer) }
      })
      koa.status = answered.status
      koa.body = JSON.parse(answered.body) as object
    })
  }
}
