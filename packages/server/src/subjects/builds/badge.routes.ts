import { buildsPaths } from '@dystracer/core/builds/wire'
import Router from '@koa/router'
import type { ServiceContext } from '#platform/context'
import { RateLimit } from '#platform/http/rate-limit'
import { readBadge } from './badge.views.js'

/** Pictures by private link: no account, no session; a page elsewhere shows them. */
export function makeBadgeRouter(ctx: ServiceContext): Router {
  const router = new Router()
  const byAddress = new RateLimit({ burst: 120, perMinute: 120 })
  router.get(buildsPaths.readBadge.path, (koa) => {
    byAddress.take(koa.ip, ctx.nowMs())
    koa.body = readBadge(ctx, koa.params.name ?? '')
    koa.type = 'image/svg+xml'
    koa.set('cache-control', 'no-cache')
    // It is to stand on pages elsewhere, and can do nothing there.
    koa.set('cross-origin-resource-policy', 'cross-origin')
    koa.set('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'")
  })
  return router
}
