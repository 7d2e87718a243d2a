import { filesOperations } from '@dystracer/core/files/wire'
import type { Api } from '#platform/http/api'
import { readItemCode } from './item-code.views.js'
import { PICTURE_HEADERS } from '#platform/files/picture-type'
import { readFile, readMeaning, readPicture, searchFiles } from './files.views.js'

export function addFilesRoutes(api: Api): void {
  api.handle(filesOperations.readFile, ({ ctx, who, params, query }) => readFile(ctx, who, params.repository, query.path))
  api.handle(filesOperations.readPicture, async ({ ctx, params, koa }) => {
    const { mediaType, content } = await readPicture(ctx, params.repository, params.blob)
    koa.set({ 'content-type': mediaType, 'cache-control': 'private, max-age=31536000, immutable', ...PICTURE_HEADERS })
    koa.body = content
  })
  api.handle(filesOperations.readMeaning, ({ ctx, params, query }) => readMeaning(ctx, params.repository, query))
  api.handle(filesOperations.readItemCode, ({ ctx, who, params }) => readItemCode(ctx, who, params.key))
  api.handle(filesOperations.searchFiles, ({ ctx, who, query }) => searchFiles(ctx, who, query))
}
