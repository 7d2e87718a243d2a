import { auditsOperations } from '@dystracer/core/audits/wire'
import type { Api } from '#platform/http/api'
import { keepReport, listKeptReports, scheduleReports } from './audits.commands.js'

export function addAuditsRoutes(api: Api): void {
  api.handle(auditsOperations.listKeptReports, ({ ctx, params }) => listKeptReports(ctx, params.project))
  api.handle(auditsOperations.keepReport, ({ ctx, who, params, body }) => {
    keepReport(ctx, who.actor, params.project, body.words)
    return listKeptReports(ctx, params.project)
  })
  api.handle(auditsOperations.scheduleReports, ({ ctx, who, params, body }) => {
    scheduleReports(ctx, who, params.project, body.every)
    return listKeptReports(ctx, params.project)
  })
}
