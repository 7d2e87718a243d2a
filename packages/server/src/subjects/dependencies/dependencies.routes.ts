import { dependenciesOperations } from '@dystracer/core/dependencies/wire'
import type { Api } from '#platform/http/api'
import { readBody } from '#platform/http/read-body'
import { sendBill, takeBillBack } from './dependencies.commands.js'
import { billOfRelease, findPackage, listReleasePackages } from './dependencies.views.js'

const BILL_MAX_BYTES = 16 << 20

export function addDependenciesRoutes(api: Api): void {
  api.handle(dependenciesOperations.listReleasePackages, ({ ctx, params, query }) => listReleasePackages(ctx, params.release, query))
  api.handle(dependenciesOperations.exportBill, async ({ ctx, params, koa }) => {
    const { name, bill } = await billOfRelease(ctx, params.release)
    koa.set({ 'content-type': 'application/vnd.cyclonedx+json', 'content-disposition': `attachment; filename="${name}"` })
    koa.body = bill
  })
  api.handle(dependenciesOperations.sendBill, async ({ ctx, who, params, koa }) =>
    sendBill(ctx, who, params.release, await readBody(koa.req, BILL_MAX_BYTES)),
  )
  api.handle(dependenciesOperations.takeBillBack, ({ ctx, who, params }) => {
    takeBillBack(ctx, who, params.release)
    return {}
  })
  api.handle(dependenciesOperations.findPackage, ({ ctx, who, query }) => findPackage(ctx, who, query))
}
