import { noteAudit, placeOf } from '#subjects/audit/index'
import { Readable } from 'node:stream'
import type { Context } from 'koa'
import { itemsAsCsv, itemsAsJsonLines } from './export.views.js'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
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
  const noteExport = (
    { ctx, who, query, koa }: { ctx: ServiceContext; who: Who; query: { filter?: string | undefined }; koa: Context },
    form: string,
  ) => noteAudit(ctx, { kind: 'exported', actor: who.actor, about: form, place: placeOf(koa), facts: { filter: query.filter ?? '' } })
  api.handle(lookingOperations.exportCsv, (asked) => {
    sendLines(asked.koa, 'text/csv', 'csv', itemsAsCsv(asked.ctx, asked.who, asked.query))
    noteExport(asked, 'CSV')
  })
  api.handle(lookingOperations.exportJsonLines, (asked) => {
    sendLines(asked.koa, 'application/jsonl', 'jsonl', itemsAsJsonLines(asked.ctx, asked.who, asked.query))
    noteExport(asked, 'JSON Lines')
  })
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
