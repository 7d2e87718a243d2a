import { bisectingOperations } from '@dystracer/core/bisecting/wire'
import type { Api } from '#platform/http/api'
import { beginBisection, callOffBisection } from './bisecting.commands.js'
import { listBisections } from './bisecting.views.js'

export function addBisectingRoutes(api: Api): void {
  api.handle(bisectingOperations.listBisections, ({ ctx, who, params }) => listBisections(ctx, who, params.repository))
  api.handle(bisectingOperations.beginBisection, ({ ctx, who, params, body }) =>
    beginBisection(ctx, who, { repository: params.repository, ...body }),
  )
  api.handle(bisectingOperations.callOffBisection, ({ ctx, who, params }) =>
    callOffBisection(ctx, who, params.repository, params.bisectionId),
  )
}
