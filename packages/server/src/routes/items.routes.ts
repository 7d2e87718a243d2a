import { z } from 'zod'
import { zLadder } from '@dystracer/core/ladder/wire'
import { zPage, zPageQuery } from '@dystracer/core/basics/wire'
import { zAddLink, zChangeItem, zClaimStage, zSetParent, zItem, zLogItem, zStarted, zStartItem, zVerifyItem } from '@dystracer/core/items/wire'
import { zCountQuery, zCounts, zFound, zFoundQuery, zOutline, zOutlineQuery, zItemQuery } from '@dystracer/core/looking/wire'
import { zHistoryEntry, zItemSummary, zLink } from '@dystracer/core/records/wire'
import { Problem } from '@dystracer/core/basics/problem'
import { addLink, changeItem, claimStage, logItem, removeLink, reopenItem, startItem, verifyItem } from '#subjects/items/items.commands'
import { setParent } from '#subjects/items/parts.commands'
import { requireItem } from '#subjects/records/require-item'
import { readHistory, readItem } from '#subjects/items/items.views'
import { countItems, findExcerpts, listItems, readOutline } from '#subjects/looking/looking.views'
import type { Api } from '#platform/http/api'
import { keyOf, thenItem } from '#subjects/items/item-answer'

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
    method: 'get',
    path: '/items-counts',
    summary: 'How many items a filter admits, in all and by group',
    query: zCountQuery,
    answer: zCounts,
    handle: ({ ctx, who, query }) => countItems(ctx, who, query),
  })
  api.add({
    method: 'get',
    path: '/items-found',
    summary: 'Where the words of a filter stand in some items (keys joined by commas)',
    query: zFoundQuery,
    answer: zFound,
    handle: ({ ctx, who, query }) => ({ rows: findExcerpts(ctx, who, { filter: query.filter, keys: query.keys.split(',') }) }),
  })
  api.add({
    method: 'get',
    path: '/items-outline',
    summary: 'Items that a filter admits, with the items that they are parts of',
    query: zOutlineQuery,
    answer: zOutline,
    handle: ({ ctx, who, query }) => readOutline(ctx, who, query),
  })
  api.add({
    method: 'post',
    path: '/items/:key/parent',
    summary: 'Make an item a part of another one, or of none',
    body: zSetParent,
    answer: zItem,
    handle: thenItem((ctx, who, key, body) => setParent(ctx, who, key, body.parent)),
  })
  api.add({
    method: 'post',
    path: '/items',
    summary: 'Log an item',
    body: zLogItem,
    answer: zItem,
    handle: ({ ctx, who, body, koa }) => {
      const key = logItem(ctx, who, body, { idempotencyKey: koa.get('idempotency-key') || undefined })
      koa.status = 201
      return readItem(ctx, who, key)
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key',
    summary: 'One item',
    answer: zItem,
    handle: ({ ctx, who, params, koa }) => {
      const item = readItem(ctx, who, keyOf(params))
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
      return readItem(ctx, who, keyOf(params))
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/ladder',
    summary: 'The ladder of an item',
    answer: zLadder,
    handle: ({ ctx, who, params }) => readItem(ctx, who, keyOf(params)).ladder,
  })
  api.add({
    method: 'get',
    path: '/items/:key/links',
    summary: 'The links of an item',
    answer: z.object({ rows: z.array(zLink) }),
    handle: ({ ctx, who, params }) => ({ rows: readItem(ctx, who, keyOf(params)).links }),
  })
  api.add({
    method: 'post',
    path: '/items/:key/links',
    summary: 'Tie an item to something',
    body: zAddLink,
    answer: zItem,
    handle: thenItem(addLink),
  })
  api.add({
    method: 'delete',
    path: '/items/:key/links/:linkId',
    summary: 'Untie',
    answer: zItem,
    handle: ({ ctx, who, params }) => {
      removeLink(ctx, who, keyOf(params), params.linkId ?? '')
      return readItem(ctx, who, keyOf(params))
    },
  })
  api.add({
    method: 'get',
    path: '/items/:key/history',
    summary: 'What happened to an item, newest first',
    query: zPageQuery,
    answer: zPage(zHistoryEntry),
    handle: ({ ctx, who, params, query }) => readHistory(ctx.db, who, `item:${requireItem(ctx, keyOf(params)).key}`, query),
  })
  api.add({
    method: 'post',
    path: '/items/:key/reopen',
    summary: 'Take a decision back',
    body: zVerifyItem,
    answer: zItem,
    handle: thenItem((ctx, who, key, body) => reopenItem(ctx, who, key, body.words)),
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
    handle: thenItem((ctx, who, key, body) => verifyItem(ctx, who, key, body.words)),
  })
  api.add({
    method: 'post',
    path: '/items/:key/claims',
    summary: 'Claim a stage without evidence',
    body: zClaimStage,
    answer: zItem,
    handle: thenItem(claimStage),
  })
}

function expectedRevision(ifMatch: string): number | undefined {
  if (ifMatch === '' || ifMatch === '*') return undefined
  const revision = /^(?:W\/)?"(\d+)"$/.exec(ifMatch)?.[1]
  if (!revision) throw new Problem('invalid-input', { fields: { 'if-match': 'Must be an ETag of this item' } })
  return Number(revision)
}
