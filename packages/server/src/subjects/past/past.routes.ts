import { pastOperations } from '@dystracer/core/past/wire'
import type { Api } from '#platform/http/api'
import { pastsSlot } from '#platform/past/pasts'
import { listLateFacts, listMoments } from './past.views.js'

export function addPastRoutes(api: Api): void {
  api.handle(pastOperations.openPast, ({ ctx, query: { at } }) => ({ at, ...ctx.use(pastsSlot).open(Date.parse(at)) }))
  api.handle(pastOperations.listMoments, ({ ctx, who }) => listMoments(ctx, who))
  api.handle(pastOperations.listLateFacts, ({ ctx, who, query: { at, ...page } }) =>
    listLateFacts(ctx, who, { atMs: Date.parse(at), ...page }),
  )
}
