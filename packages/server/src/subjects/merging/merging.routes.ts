import { mergingOperations } from '@dystracer/core/merging/wire'
import type { Api } from '#platform/http/api'
import { listMergesWaiting } from './merging.views.js'

export function addMergingRoutes(api: Api): void {
  api.handle(mergingOperations.listMergesWaiting, ({ ctx, who }) => listMergesWaiting(ctx, who))
}
