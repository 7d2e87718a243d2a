import { join } from 'node:path'
import Koa from 'koa'
import compress from 'koa-compress'
import helmet from 'koa-helmet'
import { Problem } from '@dystracer/core/basics/problem'
import { problemMiddleware } from './middleware/problem-middleware.js'
import { whoMiddleware } from './middleware/who-middleware.js'
import { Api } from './routes/api.js'
import { addEvidenceRoutes } from './routes/evidence.routes.js'
import { addFaultRoutes } from './routes/faults.routes.js'
import { makeIntakeRouter, type IntakeParts } from './routes/intake.routes.js'
import { addImportRoutes } from './routes/imports.routes.js'
import { addInboxRoutes } from './routes/inbox.routes.js'
import { addItemRoutes } from './routes/items.routes.js'
import { addLiveRoute } from './routes/live.routes.js'
import { addOverviewRoutes } from './routes/overview.routes.js'
import { addProjectRoutes } from './routes/projects.routes.js'
import { addSetupRoutes } from './routes/setup.routes.js'
import { addTalkRoutes } from './routes/talk.routes.js'
import { addTriageRoutes } from './routes/triage.routes.js'
import { addViewRoutes } from './routes/views.routes.js'
import { makeFeedRouter } from './routes/feed.routes.js'
import { staticMiddleware } from './routes/static.routes.js'
import type { ServiceContext } from './services/service-context.js'

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
