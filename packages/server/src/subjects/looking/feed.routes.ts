import { lookingPaths } from '@dystracer/core/looking/wire'
import Router from '@koa/router'
import { RateLimit } from '#platform/http/rate-limit'
import { readActivity, readCalendar } from './feeds.views.js'
import type { ServiceContext } from '#platform/context'

/** Feeds by private link: no account, no session, what the link admits and nothing else. */
export function makeFeedRouter(ctx: ServiceContext): Router {
  const router = new Router()
  const byAddress = new RateLimit({ burst: 60, perMinute: 60 })
  router.get(lookingPaths.readFeed.path, (koa) => {
    byAddress.take(koa.ip, ctx.nowMs())
    const [, token = '', ending = ''] = /^(.{1,4000})\.(ics|atom)$/.exec(koa.params.name ?? '') ?? []
    koa.set('cache-control', 'private, max-age=300')
    if (ending === 'ics') {
      koa.body = readCalendar(ctx, token)
      koa.type = 'text/calendar; charset=utf-8'
    } else {
      koa.body = readActivity(ctx, token)
      koa.type = 'application/atom+xml; charset=utf-8'
    }
  })
  return router
}
