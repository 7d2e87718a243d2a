import Router from '@koa/router'
import type { Context } from 'koa'
import { z } from 'zod'
import { Problem } from '@dystracer/core/basics/problem'
import { readJsonBody } from './read-body.js'
import { inProject, projectOf, type Who } from '#subjects/people/access'
import { beginIdempotent } from './idempotency.js'
import type { ServiceContext } from '#platform/context'
import { currentKey, resolveKey } from '#subjects/records/visibility'

type Method = 'get' | 'post' | 'patch' | 'put' | 'delete'
export interface Operation<Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType> {
  method: Method
  /** Below /api/v1; parameters as `:name`. */
  path: string
  summary: string
  query?: Query
  body?: Body
  answer: Answer
  /** Whether someone without membership may call it. */
  isPublic?: boolean
  handle(input: {
    ctx: ServiceContext
    who: Who
    params: Record<string, string>
    query: z.infer<Query>
    body: z.infer<Body>
    koa: Context
  }): z.infer<Answer> | Promise<z.infer<Answer>>
}
interface Described {
  method: Method
  path: string
  summary: string
  query: z.ZodType | undefined
  body: z.ZodType | undefined
  answer: z.ZodType
  type?: string
}

/** The API: every operation is declared once, with the schemas that check it and describe it (OpenAPI 3.1). */
export class Api {
  readonly router = new Router({ prefix: '/api/v1' })
  readonly #ctx: ServiceContext
  readonly #operations: Described[] = []

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
  }

  add<Query extends z.ZodType = z.ZodType<unknown>, Body extends z.ZodType = z.ZodType<unknown>, Answer extends z.ZodType = z.ZodType<unknown>>(
    operation: Operation<Query, Body, Answer>,
  ): void {
    const { method, path, summary, query, body, answer } = operation
    this.#operations.push({ method, path, summary, query, body, answer })
    this.router[method](path, async (koa) => {
      const asker = koa.state.who as Who
      if (!operation.isPublic) requireReader(asker)
      const { who, params } = scopeOf(this.#ctx, asker, path, koa)
      const rawBody = body ? await readJsonBody(koa.req) : undefined
      const parsedBody = body ? body.parse(rawBody) : undefined
      const idempotency =
        method === 'get' ? null : beginIdempotent(this.#ctx, who, koa.get('idempotency-key'), { method, path: koa.path, body: rawBody })
      if (idempotency?.answer) {
        koa.status = idempotency.answer.status
        koa.body = JSON.parse(idempotency.answer.body) as object
        return
      }
      koa.body = (await operation.handle({
        ctx: this.#ctx,
        who,
        params,
        query: (query ? query.parse({ ...koa.query }) : {}) as z.infer<Query>,
        body: parsedBody as z.infer<Body>,
        koa,
      })) as object
      idempotency?.remember(koa.status, JSON.stringify(koa.body))
    })
  }

  /** An operation whose answer is not JSON: a file or a table. */
  addFile(operation: {
    method: 'get' | 'post'
    path: string
    summary: string
    type: string
    answer?: z.ZodType
    handle(input: { ctx: ServiceContext; who: Who; params: Record<string, string>; koa: Context }): void | Promise<void>
  }): void {
    const { method, path, summary, type, answer = z.string() } = operation
    this.#operations.push({ method, path, summary, query: undefined, body: undefined, answer, type })
    this.router[method](path, async (koa) => {
      const asker = koa.state.who as Who
      requireReader(asker)
      const { who, params } = scopeOf(this.#ctx, asker, path, koa)
      await operation.handle({ ctx: this.#ctx, who, params, koa })
    })
  }

  /** Describes a stream that a route of its own serves. */
  describeStream(path: string, summary: string, message: z.ZodType): void {
    this.#operations.push({ method: 'get', path, summary, query: undefined, body: undefined, answer: message, type: 'text/event-stream' })
  }

  /** The description that stands at /api/openapi.json. */
  describe(): object {
    const paths: Record<string, Record<string, object>> = {}
    for (const operation of this.#operations) {
      const path = `/api/v1${operation.path
        .replace(/:(\w+)/g, '{$1}')
        .replace(/\{\*(\w+)\}/g, '{$1}')
        .replace(/\*(\w+)/g, '{$1}')}`
      const names = [...path.matchAll(/\{(\w+)\}/g)].map((match) => match[1] ?? '')
      const queryShape = operation.query instanceof z.ZodObject ? Object.entries(operation.query.shape as Record<string, z.ZodType>) : []
      paths[path] = {
        ...paths[path],
        [operation.method]: {
          summary: operation.summary,
          operationId: `${operation.method}${path.replace(/[^A-Za-z0-9]+(\w)/g, (_, letter: string) => letter.toUpperCase()).replace(/\W/g, '')}`,
          parameters: [
            ...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
            ...queryShape.map(([name, schema]) => ({ name, in: 'query', required: false, schema: toSchema(schema) })),
          ],
          ...(operation.body && { requestBody: { content: { 'application/json': { schema: toSchema(operation.body) } } } }),
          responses: {
            200: { description: 'done', content: { [operation.type ?? 'application/json']: { schema: toSchema(operation.answer) } } },
            default: { description: 'problem details (RFC 9457)', content: { 'application/problem+json': { schema: { type: 'object' } } } },
          },
        },
      }
    }
    return { openapi: '3.1.0', info: { title: 'Dystracer', version: '1', license: { name: 'Apache-2.0', identifier: 'Apache-2.0' } }, paths }
  }
}

/**
 * The path's parameters, and the asker as they stand in the project that the path is about. An item's key is resolved in one place: aliases are followed, and what the asker may not see is not there.
 */
function scopeOf(ctx: ServiceContext, asker: Who, path: string, koa: Context): { who: Who; params: Record<string, string> } {
  const params = { ...(koa.params as Record<string, string>) }
  if (path.startsWith('/items/:key') && params.key !== undefined) {
    const who = inProject(ctx.db, asker, projectOf(currentKey(ctx.db, params.key.toUpperCase())))
    requireReader(who)
    return { who, params: { ...params, key: resolveKey(ctx.db, who, params.key) } }
  }
  if (path.startsWith('/projects/:project')) {
    const who = inProject(ctx.db, asker, params.project ?? '')
    requireReader(who)
    return { who, params }
  }
  return { who: asker, params }
}

function toSchema(schema: z.ZodType): object {
  const { $schema: _, ...json } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as { $schema?: string }
  return json
}

function requireReader(who: Who): void {
  if (who.role !== null) return
  if (who.via === 'anonymous') throw new Problem('sign-in-required')
  throw new Problem('not-allowed', { detail: 'This token may not read.' })
}
