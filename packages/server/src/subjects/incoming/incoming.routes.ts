import { noteAudit, placeOf } from '#subjects/audit/index'
import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { listDeliveries, replayDelivery } from './deliveries.commands.js'
import type { RepositorySync } from '#subjects/sync/index'
import { readPublicForm, receivePublicReport } from './mail-and-form.commands.js'
import { readReport, answerReport } from './report-link.commands.js'
import { incomingOperations, incomingPaths, webhookOperations } from '@dystracer/core/incoming/wire'
import type { ServiceContext } from '#platform/context'
import { renewWebhookSecret, webhookSecret } from '#subjects/code/index'

export function addIncomingRoutes(api: Api, { sync }: { sync: RepositorySync }): void {
  const byAddress = new RateLimit({ burst: 5, perMinute: 3 })
  const ofAll = new RateLimit({ burst: 60, perMinute: 60 })
  const readersByAddress = new RateLimit({ burst: 20, perMinute: 20 })
  api.handle(incomingOperations.readPublicForm, ({ ctx, params }) => readPublicForm(ctx, params.project))
  api.handle(incomingOperations.sendPublicReport, ({ ctx, params, body, koa }) => {
    byAddress.take(koa.ip, ctx.nowMs())
    ofAll.take('all', ctx.nowMs())
    koa.status = 201
    return receivePublicReport(ctx, params.project, body)
  })
  api.handle(incomingOperations.readReport, ({ ctx, koa, params }) => {
    readersByAddress.take(koa.ip, ctx.nowMs())
    return readReport(ctx, params.token)
  })
  api.handle(incomingOperations.answerReport, ({ ctx, koa, params, body }) => {
    readersByAddress.take(koa.ip, ctx.nowMs())
    answerReport(ctx, params.token, body.text)
    koa.status = 201
    return {}
  })
  const webhook = (ctx: ServiceContext) => ({
    address: `${ctx.config.publicUrl}${incomingPaths.takeCloudEvents.path}`,
    secret: webhookSecret(ctx.db),
  })
  api.handle(webhookOperations.listDeliveries, ({ ctx }) => listDeliveries(ctx))
  api.handle(webhookOperations.replayDelivery, async ({ ctx, who, params }) => {
    await replayDelivery(ctx, { sync, sender: who.actor }, params.deliveryId)
    return listDeliveries(ctx)
  })
  api.handle(webhookOperations.readWebhook, ({ ctx }) => webhook(ctx))
  api.handle(webhookOperations.renewWebhook, ({ ctx, who, koa }) => {
    renewWebhookSecret(ctx.db)
    noteAudit(ctx, { kind: 'webhook-secret-renewed', actor: who.actor, place: placeOf(koa) })
    return webhook(ctx)
  })
}
