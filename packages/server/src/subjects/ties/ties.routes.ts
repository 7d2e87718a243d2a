import { tiesOperations } from '@dystracer/core/ties/wire'
import type { Api } from '#platform/http/api'
import { decideTies } from './ties.commands.js'
import { listUnexplained, readTies } from './ties.views.js'

export function addTiesRoutes(api: Api): void {
  api.handle(tiesOperations.listUnexplained, ({ ctx, who, query }) => listUnexplained(ctx, who, query))
  api.handle(tiesOperations.decideTies, ({ ctx, who, params, body }) => decideTies(ctx, who, params.repository, body))
  api.handle(tiesOperations.readTies, ({ ctx, who, query }) => readTies(ctx, who, query))
}
