import type { Api } from '#platform/http/api'
import { readRouting, setRoutingRule, removeRoutingRule, setDuty } from './routing.commands.js'
import { routingOperations } from '@dystracer/core/routing/wire'

export function addRoutingRoutes(api: Api): void {
  api.handle(routingOperations.readRouting, ({ ctx, params }) => readRouting(ctx, params.project))
  api.handle(routingOperations.setRoutingRule, ({ ctx, who, params, body }) => {
    setRoutingRule(ctx, who, params.project, body)
    return readRouting(ctx, params.project)
  })
  api.handle(routingOperations.removeRoutingRule, ({ ctx, who, params }) => {
    removeRoutingRule(ctx, who, params.project, params.ruleId)
    return readRouting(ctx, params.project)
  })
  api.handle(routingOperations.setDuty, ({ ctx, who, params, body }) => {
    setDuty(ctx, who, params.project, body)
    return readRouting(ctx, params.project)
  })
}
