import { zImport, zRunImport } from '@dystracer/core/contract/imports'
import { readBody } from '../middleware/read-body.js'
import { beginImport, cancelImport, readImport, runImport } from '../services/imports.service.js'
import type { Api } from './api.js'

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
