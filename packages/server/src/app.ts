import { join } from 'node:path'
import Koa from 'koa'
import compress from 'koa-compress'
import helmet from 'koa-helmet'
import { Problem } from '@dystracer/core/basics/problem'
import { problemMiddleware } from '#platform/http/problem-middleware'
import { whoMiddleware } from '#subjects/people/who-middleware'
import { Api } from '#platform/http/api'
import { addEvidenceRoutes } from '#routes/evidence.routes'
import { addFaultRoutes } from '#routes/faults.routes'
import { makeIntakeRouter, type IntakeParts } from '#subjects/incoming/intake.routes'
import { addImportRoutes } from '#routes/imports.routes'
import { addInboxRoutes } from '#routes/inbox.routes'
import { addItemRoutes } from '#routes/items.routes'
import { addLiveRoute } from '#subjects/desk/live.routes'
import { addOverviewRoutes } from '#routes/overview.routes'
import { addProjectRoutes } from '#routes/projects.routes'
import { addSetupRoutes } from '#routes/setup.routes'
import { addTalkRoutes } from '#routes/talk.routes'
import { addTriageRoutes } from '#routes/triage.routes'
import { addViewRoutes } from '#routes/views.routes'
import { makeFeedRouter } from '#subjects/looking/feed.routes'
import { staticMiddleware } from '#platform/http/static-files'
import type { ServiceContext } from '#platform/context'

/** The application over a context; the order of the middleware is the order of this file. */
export function makeApp(ctx: ServiceContext, intake: IntakeParts): Koa {
  const app = new Koa()
  const api = new Api(ctx)
  addItemRoutes(api)
  addEvidenceRoutes(api)
  addFaultRoutes(api)
  addOverviewRoutes(api)
  addTalkRoutes(api)
  addTriageRoutes(api)
  addInboxRoutes(api)
  addViewRoutes(api)
  addImportRoutes(api)
  addSetupRoutes(api)
  addProjectRoutes(api, intake)
  addLiveRoute(api, ctx)
  const description = JSON.stringify(api.describe())
  const intakeRouter = makeIntakeRouter(ctx, intake)
  app.use(problemMiddleware(ctx.log))
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
  app.use(async (koa, next) => {
    if (koa.path === '/healthz') koa.body = { status: 'ready' }
    else if (koa.path === '/api/openapi.json') {
      koa.type = 'application/json'
      koa.body = description
    } else await next()
  })
  app.use(makeFeedRouter(ctx).routes())
  app.use(staticMiddleware(join(import.meta.dirname, '../../web/dist/app')))
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
