import { pastMiddleware } from '#platform/past/past.middleware'
import { makeNotesRouter } from '#subjects/releases/releases.routes'
import { Api } from '#platform/http/api'
import { describeOperations } from '#platform/http/open-api'
import { OPERATIONS, OUTSIDE_PATHS } from '@dystracer/core/contract/operations'
import { DESCRIPTION_SCHEMA_PATH, descriptionSchema } from '@dystracer/core/build-machines/description'
import { makeGatekeeper } from './gatekeeper.js'
import { addRoutes } from './routes.js'
import { join } from 'node:path'
import Koa from 'koa'
import compress from 'koa-compress'
import helmet from 'koa-helmet'
import { Problem } from '@dystracer/core/basics/problem'
import { roomLeft } from '#platform/files/room'
import { problemMiddleware } from '#platform/http/problem-middleware'
import { whoMiddleware } from '#subjects/people/who.middleware'
import { makeIntakeRouter, type IntakeParts } from '#subjects/incoming/intake.routes'
import { makeBadgeRouter } from '#subjects/builds/builds.routes'
import { makeFeedRouter } from '#subjects/looking/feed.routes'
import { identify } from '#subjects/people/who.middleware'
import { makeMetrics, requireMetricsReader } from './metrics.js'
import { fileMiddleware, staticMiddleware } from '#platform/http/static-files'
import type { ServiceContext } from '#platform/context'

/** The API's description, made when it is first asked for: that takes half a second. */
let description: string | null = null
/** The schema of build descriptions, likewise. */
let schema: string | null = null

/** The application over a context; the order of the middleware is the order of this file. */
export function makeApp(ctx: ServiceContext, intake: IntakeParts): Koa {
  // Behind proxies the client's address is the one that the outermost of ours has seen; what else the client claims is not believed.
  const app = new Koa(ctx.config.proxies > 0 ? { proxy: true, maxIpsCount: ctx.config.proxies } : {})
  const api = new Api(ctx, makeGatekeeper(ctx))
  addRoutes(api, intake)
  const intakeRouter = makeIntakeRouter(ctx, intake)
  app.use(problemMiddleware(ctx.log, ctx.config))
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'default-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:'],
          'script-src': ["'self'"],
          'upgrade-insecure-requests': null,
        },
      },
      hsts: false,
    }),
  )
  app.use(compress({ threshold: 2048, br: false }))
  const metrics = makeMetrics(ctx)
  app.use(async (koa, next) => {
    if (koa.path === '/healthz' || koa.path === '/readyz') {
      // Ready while every thread runs; one that died is started again by itself.
      const threads = ctx.threads.troubles()
      const isReady = Object.keys(threads).length === 0
      koa.status = isReady ? 200 : 503
      koa.body = { status: isReady ? 'ready' : 'not ready', threads, disk: roomLeft(ctx.config).isLow ? 'nearly full' : 'has room' }
    } else if (koa.path === '/metrics') {
      requireMetricsReader(identify(ctx, koa))
      koa.type = metrics.contentType
      koa.body = await metrics.read()
    } else if (koa.path === '/api/openapi.json') {
      koa.type = 'application/json'
      description ??= JSON.stringify(describeOperations(OPERATIONS, OUTSIDE_PATHS))
      koa.body = description
    } else if (koa.path === DESCRIPTION_SCHEMA_PATH) {
      koa.type = 'application/schema+json'
      schema ??= JSON.stringify(descriptionSchema())
      koa.body = schema
    } else await next()
  })
  app.use(makeNotesRouter(ctx).routes())
  app.use(makeFeedRouter(ctx).routes())
  app.use(makeBadgeRouter(ctx).routes())
  app.use(fileMiddleware('/dys.mjs', join(import.meta.dirname, '../../cli/dist/bundle/dys.mjs')))
  app.use(staticMiddleware(join(import.meta.dirname, '../../web/dist/app')))
  // What people may read is kept by no cache; files that never change say otherwise themselves.
  app.use((koa, next) => {
    koa.set('cache-control', 'no-store')
    return next()
  })
  app.use(pastMiddleware())
  app.use(whoMiddleware(ctx))
  app.use(intakeRouter.routes())
  app.use(api.router.routes())
  app.use(
    api.router.allowedMethods({
      throw: true,
      methodNotAllowed: () => new Problem('method-not-allowed'),
      notImplemented: () => new Problem('method-not-allowed'),
    }),
  )
  return app
}
