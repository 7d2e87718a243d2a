import type { Api } from '#platform/http/api'
import { changeMany } from './bulk-changes.commands.js'
import { thenItem } from './item-answer.routes.js'
import { moveItem, copyItem, follow, reportAgain } from './item-moves.commands.js'
import {
  logItem,
  changeItem,
  addLink,
  removeLink,
  reopenItem,
  startItem,
  verifyItem,
  claimStage,
  acceptClaim,
  declareUnaffected,
  takeBackClaim,
} from './items.commands.js'
import { readItem, readHistory } from './items.views.js'
import { readAffected } from './affected.views.js'
import { sayAffected, setParent } from './parts.commands.js'
import { Problem } from '@dystracer/core/basics/problem'
import { itemsOperations } from '@dystracer/core/items/wire'
import { requireItem } from '#subjects/records/index'

function expectedRevision(ifMatch: string): number | undefined {
  if (ifMatch === '' || ifMatch === '*') return undefined
  const revision = /^(?:W\/)?"(\d+)"$/.exec(ifMatch)?.[1]
  if (!revision) throw new Problem('invalid-input', { fields: { 'if-match': 'Must be an ETag of this item' } })
  return Number(revision)
}

export function addItemsRoutes(api: Api): void {
  api.handle(
    itemsOperations.setParent,
    thenItem((ctx, who, key, body) => setParent(ctx, who, key, body.parent)),
  )
  api.handle(itemsOperations.logItem, ({ ctx, who, body, koa }) => {
    const key = logItem(ctx, who, body, { idempotencyKey: koa.get('idempotency-key') || undefined })
    return readItem(ctx, who, key)
  })
  api.handle(itemsOperations.readItem, ({ ctx, who, params, koa }) => {
    const item = readItem(ctx, who, params.key)
    koa.set('etag', `"${item.revision}"`)
    return item
  })
  api.handle(itemsOperations.changeItem, ({ ctx, who, params, body, koa }) => {
    changeItem(ctx, who, params.key, body, expectedRevision(koa.get('if-match')))
    return readItem(ctx, who, params.key)
  })
  api.handle(itemsOperations.readLadder, ({ ctx, who, params }) => readItem(ctx, who, params.key).ladder)
  api.handle(itemsOperations.listLinks, ({ ctx, who, params }) => ({ rows: readItem(ctx, who, params.key).links }))
  api.handle(itemsOperations.readAffected, ({ ctx, who, params }) => readAffected(ctx, who, params.key))
  api.handle(itemsOperations.sayAffected, ({ ctx, who, params, body }) => {
    sayAffected(ctx, who, params.key, body)
    return readAffected(ctx, who, params.key)
  })
  api.handle(itemsOperations.addLink, thenItem(addLink))
  api.handle(itemsOperations.removeLink, ({ ctx, who, params }) => {
    removeLink(ctx, who, params.key, params.linkId)
    return readItem(ctx, who, params.key)
  })
  api.handle(itemsOperations.readHistory, ({ ctx, who, params, query }) =>
    readHistory(ctx.db, who, `item:${requireItem(ctx, params.key).key}`, query),
  )
  api.handle(
    itemsOperations.reopenItem,
    thenItem((ctx, who, key, body) => reopenItem(ctx, who, key, body.words)),
  )
  api.handle(itemsOperations.startItem, ({ ctx, who, params, body }) => startItem(ctx, who, params.key, body))
  api.handle(
    itemsOperations.verifyItem,
    thenItem((ctx, who, key, body) => verifyItem(ctx, who, key, body.words)),
  )
  api.handle(itemsOperations.claimStage, thenItem(claimStage))
  api.handle(itemsOperations.acceptClaim, thenItem(acceptClaim))
  api.handle(itemsOperations.declareUnaffected, thenItem(declareUnaffected))
  api.handle(itemsOperations.takeBackClaim, thenItem(takeBackClaim))
  api.handle(itemsOperations.moveItem, ({ ctx, who, params, body }) => readItem(ctx, who, moveItem(ctx, who, params.key, body.project)))
  api.handle(itemsOperations.copyItem, ({ ctx, who, params }) => readItem(ctx, who, copyItem(ctx, who, params.key)))
  api.handle(
    itemsOperations.followItem,
    thenItem((ctx, who, key, body) => follow(ctx, who, key, body.isOn)),
  )
  api.handle(itemsOperations.reportAgain, thenItem(reportAgain))
  api.handle(itemsOperations.changeMany, ({ ctx, who, body }) => changeMany(ctx, who, body))
}
