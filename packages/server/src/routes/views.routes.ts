import { Readable } from 'node:stream'
import { z } from 'zod'
import { zExportQuery, zFeedLinks, zPinView, zSaveView, zView } from '@dystracer/core/looking/wire'
import { itemsAsCsv, itemsAsJsonLines } from '#subjects/looking/export'
import { feedLinks } from '#subjects/looking/feeds'
import { listViews, pinView, removeView, saveView } from '#subjects/looking/saved-views.commands'
import type { Api } from '#platform/http/api'

const zViews = z.object({ rows: z.array(zView) })

/** Saved views, and a view's items as files and feeds. */
export function addViewRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/projects/:project/views',
    summary: 'Saved views: the asker’s own and shared ones',
    answer: zViews,
    handle: ({ ctx, who, params }) => ({ rows: listViews(ctx, who, params.project ?? '') }),
  })
  api.add({
    method: 'put',
    path: '/projects/:project/views',
    summary: 'Save a view',
    body: zSaveView,
    answer: zViews,
    handle: ({ ctx, who, params, body }) => {
      saveView(ctx, who, params.project ?? '', body)
      return { rows: listViews(ctx, who, params.project ?? '') }
    },
  })
  api.add({
    method: 'delete',
    path: '/projects/:project/views/:viewId',
    summary: 'Remove a view',
    answer: zViews,
    handle: ({ ctx, who, params }) => {
      removeView(ctx, who, params.project ?? '', params.viewId ?? '')
      return { rows: listViews(ctx, who, params.project ?? '') }
    },
  })
  api.add({
    method: 'post',
    path: '/projects/:project/views/:viewId/pin',
    summary: 'Pin a view in one’s own index, or take it out',
    body: zPinView,
    answer: zViews,
    handle: ({ ctx, who, params, body }) => {
      pinView(ctx, who, params.project ?? '', params.viewId ?? '', body.isPinned)
      return { rows: listViews(ctx, who, params.project ?? '') }
    },
  })
  api.add({
    method: 'get',
    path: '/feed-links',
    summary: 'Private links to a view’s calendar and activity',
    query: zExportQuery,
    answer: zFeedLinks,
    handle: ({ ctx, who, query }) => feedLinks(ctx, who, query.filter),
  })
  for (const [ending, type, lines] of [
    ['csv', 'text/csv', itemsAsCsv],
    ['jsonl', 'application/jsonl', itemsAsJsonLines],
  ] as const)
    api.addFile({
      method: 'get',
      path: `/items.${ending}`,
      summary: `Items that a filter admits, as ${ending === 'csv' ? 'CSV' : 'JSON Lines'}`,
      type,
      handle: ({ ctx, who, koa }) => {
        const query = zExportQuery.parse({ ...koa.query })
        // The first page is read before the head is sent, so that a filter which is not understood is still answered as a problem.
        const parts = lines(ctx, who, query)
        const first = parts.next()
        koa.set({ 'content-type': `${type}; charset=utf-8`, 'content-disposition': `attachment; filename="items.${ending}"` })
        koa.body = Readable.from(
          (function* () {
            if (!first.done) yield first.value
            yield* parts
          })(),
        )
      },
    })
}
