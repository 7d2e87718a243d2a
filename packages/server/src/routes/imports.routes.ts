import { zImport, zRunImport } from '@dystracer/core/imports/wire'
import { readBody } from '#platform/http/read-body'
import { beginImport, cancelImport, readImport, runImport } from '#subjects/imports/imports.commands'
import type { Api } from '#platform/http/api'

const FILE_LIMIT_BYTES = 100 << 20

/** Items from a file: read, tried, run; each step shows how far it is and can be stopped. */
export function addImportRoutes(api: Api): void {
  api.add({
    method: 'post',
    path: '/projects/:project/imports',
    summary: 'Read a file of items (CSV or JSON Lines, as the body); ?name= is what it is called',
    answer: zImport,
    handle: async ({ ctx, who, params, koa }) => {
      const bytes = await readBody(koa.req, FILE_LIMIT_BYTES)
      koa.status = 201
      return beginImport(ctx, who, params.project ?? '', { name: String(koa.query.name ?? 'items'), bytes })
    },
  })
  api.add({
    method: 'get',
    path: '/imports/:importId',
    summary: 'How far an import is',
    answer: zImport,
    handle: ({ ctx, who, params }) => readImport(ctx, who, params.importId ?? ''),
  })
  api.add({
    method: 'post',
    path: '/imports/:importId/run',
    summary: 'Try an import, or run it',
    body: zRunImport,
    answer: zImport,
    handle: ({ ctx, who, params, body }) => runImport(ctx, who, params.importId ?? '', body),
  })
  api.add({
    method: 'delete',
    path: '/imports/:importId',
    summary: 'Stop an import',
    answer: zImport,
    handle: ({ ctx, who, params }) => cancelImport(ctx, who, params.importId ?? ''),
  })
}
