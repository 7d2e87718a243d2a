import { intakeOperations } from '@dystracer/core/faults/intake-wire'
import type { Api } from '#platform/http/api'
import { listIntakeRules, orderIntakeRules, removeIntakeRule, setIntakeBudget, setIntakeRule } from './intake.commands.js'
import { readIntakeRule } from './record.views.js'
import { tryIntakeRule } from './trial.views.js'

/** What the interface and others ask of intake rules. */
export function addIntakeRuleRoutes(api: Api): void {
  api.handle(intakeOperations.listIntakeRules, ({ ctx, params }) => listIntakeRules(ctx, params.project))
  api.handle(intakeOperations.readIntakeRule, ({ ctx, who, params }) => readIntakeRule(ctx, who, params))
  api.handle(intakeOperations.tryIntakeRule, ({ ctx, who, params, body, koa }) =>
    tryIntakeRule(ctx, who, params.project, body, () => koa.res.closed),
  )
  api.handle(intakeOperations.setIntakeRule, ({ ctx, who, params, body }) => {
    setIntakeRule(ctx, who, params, body)
    return listIntakeRules(ctx, params.project)
  })
  api.handle(intakeOperations.orderIntakeRules, ({ ctx, who, params, body }) => {
    orderIntakeRules(ctx, who, params.project, body.ruleIds)
    return listIntakeRules(ctx, params.project)
  })
  api.handle(intakeOperations.setIntakeBudget, ({ ctx, who, params, body }) => {
    setIntakeBudget(ctx, who, params.project, body)
    return listIntakeRules(ctx, params.project)
  })
  api.handle(intakeOperations.removeIntakeRule, ({ ctx, who, params }) => {
    removeIntakeRule(ctx, who, params)
    return listIntakeRules(ctx, params.project)
  })
}
