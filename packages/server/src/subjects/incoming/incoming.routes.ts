import { noteAudit, placeOf } from '#subjects/audit/index'
import { RateLimit } from '#platform/http/rate-limit'
import type { Api } from '#platform/http/api'
import { listDeliveries, replayDelivery } from './deliveries.commands.js'
import type { RepositorySync } from '#subjects/sync/index'
import { readPublicForm, receivePublicReport } from './mail-and-form.commands.js'
import { readReport, answerReport } from './report-link.commands.js'
import { hookOf, renewSecretOf, secretOf } from './hooks.js'
import { listHooks, messagesOf, removeHook, setHook, tryReadings } from './hooks.commands.js'
import { hookOperations, incomingOperations, incomingPaths, webhookOperations } from '@dystracer/core/incoming/wire'
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
    return receivePublicReport(ctx, params.project, body)
  })
  api.handle(incomingOperations.readReport, ({ ctx, koa, params }) => {
    readersByAddress.take(koa.ip, ctx.nowMs())
    return readReport(ctx, params.token)
  })
  api.handle(incomingOperations.answerReport, ({ ctx, koa, params, body }) => {
    readersByAddress.take(koa.ip, ctx.nowMs())
    answerReport(ctx, params.token, body.text)
    return {}
  })
  const webhook = (ctx: ServiceContext) => ({
    address: `${ctx.config.publicUrl}${incomingPaths.takeCloudEvents.path}`,
    secret: webhookSecret(ctx.db),
  })
  const hooks = (ctx: ServiceContext, project: string) => ({ rows: listHooks(ctx, project) })
  api.handle(hookOperations.listHooks, ({ ctx, params }) => hooks(ctx, params.project))
  api.handle(hookOperations.setHook, ({ ctx, who, params, body }) => {
    setHook(ctx, who, params, body)
    return hooks(ctx, params.project)
  })
  api.handle(hookOperations.removeHook, ({ ctx, who, params }) => {
    removeHook(ctx, who, params)
    return hooks(ctx, params.project)
  })
  api.handle(hookOperations.readHookSecret, ({ ctx, params }) => {
    hookOf(ctx.db, params.hookId, params.project)
    return { secret: secretOf(ctx.db, params.hookId) }
  })
  api.handle(hookOperations.renewHookSecret, ({ ctx, who, params, koa }) => {
    hookOf(ctx.db, params.hookId, params.project)
    noteAudit(ctx, { kind: 'webhook-secret-renewed', actor: who.actor, about: params.hookId, place: placeOf(koa) })
    return { secret: renewSecretOf(ctx.db, params.hookId) }
  })
  api.handle(hookOperations.listHookMessages, ({ ctx, params }) => ({ rows: messagesOf(ctx, params) }))
  api.handle(hookOperations.tryReadings, ({ ctx, params, body }) => ({ rows: tryReadings(ctx, params, body.readings) }))
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
