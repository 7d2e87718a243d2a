import { z } from 'zod'
import { zLadder, zPage, zPageQuery } from '@dystracer/core/contract/common'
import {
  zAcceptItem,
  zAddComment,
  zAddLink,
  zAddTime,
  zChangeItem,
  zClaimStage,
  zComment,
  zHistoryEntry,
  zItem,
  zItemQuery,
  zItemSummary,
  zLink,
  zLogItem,
  zProposals,
  zRejectItem,
  zStarted,
  zStartItem,
  zTimeEntry,
  zTriageEntry,
  zVerifyItem,
} from '@dystracer/core/contract/items'
import { Problem } from '@dystracer/core/basics/problem'
import {
  acceptItem,
  addComment,
  addLink,
  addTime,
  changeItem,
  claimStage,
  logItem,
  rejectItem,
  removeLink,
  reopenItem,
  requireItem,
  startItem,
  verifyItem,
} from '../services/items.service.js'
import { listComments, listItems, listTime, readHistory, readItem, readLinks } from '../services/item-views.js'
import { listTriage, readProposals } from '../services/overview.service.js'
import type { Api } from './api.js'

export function addItemRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/items',
    summary: 'Items that a filter admits',
    query: zItemQuery,
    answer: zPage(zItemSummary),
    handle: ({ ctx, who, query }) => listItems(ctx, who, query),
  })
  api.add({
    method: 'post',
    path: '/items',
    summary: 'Log an item',
    body: zLogItem,
    answer: zItem,
    handle: ({ ctx, who, body, koa }) => {
      const key = logItem(ctx, who, body, koa.get('idempotency-key') || undefined)
      koa.status = 201
      return readItem(ctx, key)
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key',
    summary: 'One item',
    answer: zItem,
    handle: ({ ctx, params, koa }) => {
      const item = readItem(ctx, keyOf(params))
      koa.set('etag', `"${item.revision}"`)
      return item
    },
  })
  api.add({
    method: 'patch',
    path: '/items/:key',
    summary: 'Change fields of an item',
    body: zChangeItem,
    answer: zItem,
    handle: ({ ctx, who, params, body, koa }) => {
      changeItem(ctx, who, keyOf(params), body, expectedRevision(koa.get('if-match')))
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/ladder',
    summary: 'The ladder of an item',
    answer: zLadder,
    handle: ({ ctx, params }) => readItem(ctx, keyOf(params)).ladder,
  })
  api.add({
    method: 'get',
    path: '/items/:key/links',
    summary: 'The links of an item',
    answer: z.object({ rows: z.array(zLink) }),
    handle: ({ ctx, params }) => ({ rows: readLinks(ctx.db, requireItem(ctx, keyOf(params)).key) }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/links',
    summary: 'Tie an item to something',
    body: zAddLink,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      addLink(ctx, who, keyOf(params), body)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'delete',
    path: '/items/:key/links/:linkId',
    summary: 'Untie',
    answer: zItem,
    handle: ({ ctx, who, params }) => {
      removeLink(ctx, who, keyOf(params), params.linkId ?? '')
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/history',
    summary: 'What happened to an item, newest first',
    query: zPageQuery,
    answer: zPage(zHistoryEntry),
    handle: ({ ctx, params, query }) => readHistory(ctx.db, `item:${requireItem(ctx, keyOf(params)).key}`, query),
  })
  api.add({
    method: 'get',
    path: '/items/:key/comments',
    summary: 'Comments',
    answer: zPage(zComment),
    handle: ({ ctx, params }) => ({ rows: listComments(ctx.db, requireItem(ctx, keyOf(params)).key), nextCursor: null }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/comments',
    summary: 'Comment',
    body: zAddComment,
    answer: zPage(zComment),
    handle: ({ ctx, who, params, body }) => {
      addComment(ctx, who, keyOf(params), body.text)
      return { rows: listComments(ctx.db, keyOf(params)), nextCursor: null }
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/time',
    summary: 'Time spent',
    answer: zPage(zTimeEntry),
    handle: ({ ctx, params }) => ({ rows: listTime(ctx.db, requireItem(ctx, keyOf(params)).key), nextCursor: null }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/time',
    summary: 'Book time',
    body: zAddTime,
    answer: zPage(zTimeEntry),
    handle: ({ ctx, who, params, body }) => {
      addTime(ctx, who, keyOf(params), body)
      return { rows: listTime(ctx.db, keyOf(params)), nextCursor: null }
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/proposals',
    summary: 'What a decision could look like, with reasons',
    answer: zProposals,
    handle: ({ ctx, params }) => readProposals(ctx, keyOf(params)),
  })
  api.add({
    method: 'post',
    path: '/items/:key/accept',
    summary: 'Accept',
    body: zAcceptItem,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      acceptItem(ctx, who, keyOf(params), body)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'post',
    path: '/items/:key/reject',
    summary: 'Reject with a disposition',
    body: zRejectItem,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      rejectItem(ctx, who, keyOf(params), body)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'post',
    path: '/items/:key/reopen',
    summary: 'Take a decision back',
    body: zVerifyItem,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      reopenItem(ctx, who, keyOf(params), body.words)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'post',
    path: '/items/:key/start',
    summary: 'Start work: create the branch',
    body: zStartItem,
    answer: zStarted,
    handle: ({ ctx, who, params, body }) => startItem(ctx, who, keyOf(params), body),
  })
  api.add({
    method: 'post',
    path: '/items/:key/verify',
    summary: 'Verify by a person',
    body: zVerifyItem,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      verifyItem(ctx, who, keyOf(params), body.words)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'post',
    path: '/items/:key/claims',
    summary: 'Claim a stage without evidence',
    body: zClaimStage,
    answer: zItem,
    handle: ({ ctx, who, params, body }) => {
      claimStage(ctx, who, keyOf(params), body)
      return readItem(ctx, keyOf(params))
    },
  })
  api.add({
    method: 'get',
    path: '/triage',
    summary: 'What needs a decision',
    query: zPageQuery,
    answer: zPage(zTriageEntry),
    handle: ({ ctx, query }) => listTriage(ctx, query),
  })
}

function keyOf(params: Record<string, string>): string {
  return (params.key ?? '').toUpperCase()
}

function expectedRevision(ifMatch: string): number | undefined {
  if (ifMatch === '' || ifMatch === '*') return undefined
  const revision = /^(?:W\/)?"(\d+)"$/.exec(ifMatch)?.[1]
  if (!revision) throw new Problem('invalid-input', { fields: { 'if-match': 'Must be an ETag of this item' } })
  return Number(revision)
}
