import type { Middleware } from 'koa'
import { Problem } from '@dystracer/core/basics/problem'

/** `/api/past/2026-10-03T12:00:00Z/v1/…`: the same paths as below `/api/v1`, as of a moment. */
const PAST = /^\/api\/past\/(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ)(\/v1\/.*)$/

/** Notes the moment that a request is about, and leads it to the same operation as one about now. Nothing is changed in the past. */
export function pastMiddleware(): Middleware {
  return async (koa, next) => {
    if (!koa.path.startsWith('/api/past/')) return next()
    const [, at = '', path = ''] = PAST.exec(koa.path) ?? []
    const atMs = Date.parse(at)
    if (Number.isNaN(atMs)) throw new Problem('not-found', { detail: 'A moment is written /api/past/2026-10-03T12:00:00Z/v1/…' })
    if (koa.method !== 'GET' && koa.method !== 'HEAD') throw new Problem('past-is-read-only')
    koa.state.pastAtMs = atMs
    koa.path = `/api${path}`
    await next()
  }
}
