import { filesOperations } from '@dystracer/core/files/wire'
import type { Api } from '#platform/http/api'
import { readItemCode } from './item-code.views.js'
import { readFile, searchFiles } from './files.views.js'

export function addFilesRoutes(api: Api): void {
  api.handle(filesOperations.readFile, ({ ctx, who, params, query }) => readFile(ctx, who, params.repository, query.path))
  api.handle(filesOperations.readItemCode, ({ ctx, who, params }) => readItemCode(ctx, who, params.key))
  api.handle(filesOperations.searchFiles, ({ ctx, who, query }) => searchFiles(ctx, who, query))
}
