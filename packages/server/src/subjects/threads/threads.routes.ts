import type { Api } from '#platform/http/api'
import { readThread } from './threads.views.js'
import { threadsOperations } from '@dystracer/core/threads/wire'

export function addThreadsRoutes(api: Api): void {
  api.handle(threadsOperations.readThread, ({ ctx, who, params }) => readThread(ctx, who, params.id))
}
