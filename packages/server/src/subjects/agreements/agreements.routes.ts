import { agreementsOperations as operations } from '@dystracer/core/agreements/wire'
import type { Api } from '#platform/http/api'
import { agreeTo, askAgreement, changeAgreement, endAgreement, remarkOn, settleRemark } from './agreements.commands.js'
import { listAgreements, readAgreement } from './agreements.views.js'

export function addAgreementsRoutes(api: Api): void {
  api.handle(operations.listAgreements, ({ ctx, params }) => ({ rows: listAgreements(ctx, params.project) }))
  api.handle(operations.readAgreement, ({ ctx, who, params }) => readAgreement(ctx, who, params.project, params.agreementId))
  api.handle(operations.askAgreement, ({ ctx, who, params, body }) =>
    readAgreement(ctx, who, params.project, askAgreement(ctx, who, params.project, body)),
  )
  api.handle(operations.changeAgreement, ({ ctx, who, params, body }) => {
    changeAgreement(ctx, who, params, body)
    return readAgreement(ctx, who, params.project, params.agreementId)
  })
  api.handle(operations.agreeToRequirements, ({ ctx, who, params, body }) => {
    agreeTo(ctx, who, params, body)
    return readAgreement(ctx, who, params.project, params.agreementId)
  })
  api.handle(operations.remarkOnAgreement, ({ ctx, who, params, body }) => {
    remarkOn(ctx, who, params, body)
    return readAgreement(ctx, who, params.project, params.agreementId)
  })
  api.handle(operations.settleAgreementRemark, ({ ctx, who, params, body }) => {
    settleRemark(ctx, who, params, body.isSettled)
    return readAgreement(ctx, who, params.project, params.agreementId)
  })
  api.handle(operations.endAgreement, ({ ctx, who, params, body }) => {
    endAgreement(ctx, who, params, body)
    return readAgreement(ctx, who, params.project, params.agreementId)
  })
}
