import { Readable } from 'node:stream'
import type { Context } from 'koa'
import { itemsAsCsv, itemsAsJsonLines } from './export.views.js'
import type { Api } from '#platform/http/api'
import { feedLinks } from './feeds.views.js'
import { listItems, countItems, findExcerpts, readOutline } from './looking.views.js'
import { listViews, saveView, removeView, pinView } from './saved-views.commands.js'
import { lookingOperations } from '@dystracer/core/looking/wire'

export function addLookingRoutes(api: Api): void {
  api.handle(lookingOperations.listItems, ({ ctx, who, query }) => listItems(ctx, who, query))
  api.handle(lookingOperations.countItems, ({ ctx, who, query }) => countItems(ctx, who, query))
  api.handle(lookingOperations.findExcerpts, ({ ctx, who, query }) => ({
    rows: findExcerpts(ctx, who, { filter: query.filter, keys: query.keys.split(',') }),
  }))
  api.handle(lookingOperations.readOutline, ({ ctx, who, query }) => readOutline(ctx, who, query))
  api.handle(lookingOperations.listViews, ({ ctx, who, params }) => ({ rows: listViews(ctx, who, params.project) }))
  api.handle(lookingOperations.saveView, ({ ctx, who, params, body }) => {
    saveView(ctx, who, params.project, body)
    return { rows: listViews(ctx, who, params.project) }
  })
  api.handle(lookingOperations.removeView, ({ ctx, who, params }) => {
    removeView(ctx, who, params.project, params.viewId)
    return { rows: listViews(ctx, who, params.project) }
  })
  api.handle(lookingOperations.pinView, ({ ctx, who, params, body }) => {
    pinView(ctx, who, params.project, params.viewId, body.isPinned)
    return { rows: listViews(ctx, who, params.project) }
  })
  api.handle(lookingOperations.readFeedLinks, ({ ctx, who, query }) => feedLinks(ctx, who, query.filter))
  api.handle(lookingOperations.exportCsv, ({ ctx, who, query, koa }) => sendLines(koa, 'text/csv', 'csv', itemsAsCsv(ctx, who, query)))
  api.handle(lookingOperations.exportJsonLines, ({ ctx, who, query, koa }) =>
    sendLines(koa, 'application/jsonl', 'jsonl', itemsAsJsonLines(ctx, who, query)),
  )
}

/**
 * Sends a file page by page. The first page is read before the head is sent, so that a filter which is not understood is still answered as
 * a problem.
 */
function sendLines(koa: Context, type: string, ending: string, parts: Generator<string>): void {
  const first = parts.next()
  koa.set({ 'content-type': `${type}; charset=utf-8`, 'content-disposition': `attachment; filename="items.${ending}"` })
  koa.body = Readable.from(
    (function* () {
      if (!first.done) yield first.value
      yield* parts
    })(),
  )
}
