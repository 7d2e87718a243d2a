import type { Api } from '#platform/http/api'
import { readBody } from '#platform/http/read-body'
import { beginImport, readImport, runImport, cancelImport } from './imports.commands.js'
import { importsOperations } from '@dystracer/core/imports/wire'

const FILE_LIMIT_BYTES = 100 << 20

export function addImportsRoutes(api: Api): void {
  api.handle(importsOperations.beginImport, async ({ ctx, who, params, koa }) => {
    const bytes = await readBody(koa.req, FILE_LIMIT_BYTES)
    return beginImport(ctx, who, params.project, { name: String(koa.query.name ?? 'items'), bytes })
  })
  api.handle(importsOperations.readImport, ({ ctx, who, params }) => readImport(ctx, who, params.importId))
  api.handle(importsOperations.runImport, ({ ctx, who, params, body }) => runImport(ctx, who, params.importId, body))
  api.handle(importsOperations.cancelImport, ({ ctx, who, params }) => cancelImport(ctx, who, params.importId))
}
