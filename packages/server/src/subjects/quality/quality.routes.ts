import { qualityOperations } from '@dystracer/core/quality/wire'
import type { Api } from '#platform/http/api'
import { setQualityRules } from './quality.commands.js'
import { listQualityRules, tryQualityRule } from './quality.views.js'

export function addQualityRoutes(api: Api): void {
  api.handle(qualityOperations.listQualityRules, ({ ctx, params }) => listQualityRules(ctx, params.project))
  api.handle(qualityOperations.setQualityRules, ({ ctx, who, params, body }) => {
    setQualityRules(ctx, who, params.project, body.rules)
    return listQualityRules(ctx, params.project)
  })
  api.handle(qualityOperations.tryQualityRule, ({ ctx, who, params, body }) => tryQualityRule(ctx, who, params.project, body))
}
