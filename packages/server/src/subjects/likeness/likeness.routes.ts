import type { Api } from '#platform/http/api'
import { findLookAlikes } from './likeness.views.js'
import { likenessOperations } from '@dystracer/core/likeness/wire'

export function addLikenessRoutes(api: Api): void {
  api.handle(likenessOperations.findLookAlikes, async ({ ctx, who, query }) => ({
    rows: await findLookAlikes(ctx, who, query),
  }))
}
