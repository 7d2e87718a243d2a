import type { Api } from '#platform/http/api'
import { listMailRefusals } from './mail.js'
import { listInbox, markRead, snooze, readChoices, chooseWay } from './notices.js'
import { inboxOperations } from '@dystracer/core/inbox/wire'

export function addInboxRoutes(api: Api): void {
  api.handle(inboxOperations.listInbox, ({ ctx, who, query }) => listInbox(ctx, who, query))
  api.handle(inboxOperations.markRead, ({ ctx, who, body }) => {
    markRead(ctx, who, body)
    return {}
  })
  api.handle(inboxOperations.snooze, ({ ctx, who, body }) => {
    snooze(ctx, who, body)
    return {}
  })
  api.handle(inboxOperations.readNoticeChoices, ({ ctx, who }) => readChoices(ctx, who))
  api.handle(inboxOperations.chooseNoticeWay, ({ ctx, who, body }) => {
    chooseWay(ctx, who, body)
    return readChoices(ctx, who)
  })
  api.handle(inboxOperations.listMailRefusals, ({ ctx, params }) => ({ rows: listMailRefusals(ctx, params.project) }))
}
