import Router from '@koa/router'
import type { ServiceContext } from '#platform/context'
import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { logFailure, setAside, takeFailure } from './failures.commands.js'
import { readFailure } from './failure-detail.views.js'
import { readFailures } from './failures.views.js'
import { listAside, listBuilds, listMainLines } from './build-lists.views.js'
import { listArtefacts } from './artefacts.views.js'
import { badgeLink, readBadge } from './badge.views.js'
import { readBuildFindings } from './findings.views.js'
import { readBuild } from './builds.views.js'
import { readTestRecord } from './test-record.views.js'
import { buildsOperations, buildsPaths } from '@dystracer/core/builds/wire'

export function addBuildsRoutes(api: Api): void {
  api.handle(buildsOperations.listArtefacts, ({ ctx, params }) => listArtefacts(ctx, params.release))
  api.handle(buildsOperations.readBadgeLink, ({ ctx, params }) => badgeLink(ctx, params.repository))
  api.handle(buildsOperations.listAside, ({ ctx, who }) => ({ rows: listAside(ctx, who) }))
  api.handle(buildsOperations.setAside, ({ ctx, who, params, body }) => {
    setAside(ctx, who, params.repository, body)
    return {}
  })
  api.handle(buildsOperations.listMainLines, ({ ctx, who }) => ({ rows: listMainLines(ctx, who) }))
  api.handle(buildsOperations.listBuilds, ({ ctx, who, query }) => listBuilds(ctx, who, query))
  const buildOf = ({ repository, number }: { repository: string; number: string }) => ({ repository, number: Number(number) })
  api.handle(buildsOperations.readFailures, ({ ctx, who, params }) => readFailures(ctx, who, params.repository, Number(params.number)))
  api.handle(buildsOperations.readFailure, ({ ctx, params, query }) => readFailure(ctx, params.repository, Number(params.number), query))
  api.handle(buildsOperations.readBuildFindings, ({ ctx, params }) => readBuildFindings(ctx, params.repository, Number(params.number)))
  api.handle(buildsOperations.takeFailure, ({ ctx, who, params, body }) => {
    takeFailure(ctx, who, buildOf(params), body)
    return readFailures(ctx, who, params.repository, Number(params.number))
  })
  api.handle(buildsOperations.logFailure, ({ ctx, who, params, body }) => logFailure(ctx, who, buildOf(params), body))
  api.handle(buildsOperations.readTestRecord, ({ ctx, params, query }) => readTestRecord(ctx, params.repository, query))
  api.handle(buildsOperations.readBuild, ({ ctx, who, params }) => readBuild(ctx, who, params.repository, Number(params.number)))
}

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
