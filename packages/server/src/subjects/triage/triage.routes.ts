import type { Api } from '#platform/http/api'
import { acceptItem, rejectItem, mergeItem, splitItem, askReporter, decideMany } from './decisions.commands.js'
import { readProposals } from './proposals.views.js'
import { listTriage } from './queue.views.js'
import { readTriageWeeks } from './weeks.views.js'
import { triageOperations } from '@dystracer/core/triage/wire'
import { thenItem } from '#subjects/items/index'

export function addTriageRoutes(api: Api): void {
  api.handle(triageOperations.listTriage, ({ ctx, who, query }) => listTriage(ctx, who, query))
  api.handle(triageOperations.readProposals, ({ ctx, who, params }) => readProposals(ctx, who, params.key))
  api.handle(triageOperations.acceptItem, thenItem(acceptItem))
  api.handle(triageOperations.rejectItem, thenItem(rejectItem))
  api.handle(triageOperations.mergeItem, thenItem(mergeItem))
  api.handle(triageOperations.splitItem, thenItem(splitItem))
  api.handle(triageOperations.askReporter, thenItem(askReporter))
  api.handle(triageOperations.decideMany, ({ ctx, who, body }) => decideMany(ctx, who, body))
  api.handle(triageOperations.readTriageWeeks, ({ ctx, who, params, query }) => readTriageWeeks(ctx, who, params.project, query.weeks))
}
