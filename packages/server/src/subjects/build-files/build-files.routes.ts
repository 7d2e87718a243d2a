import { buildFilesOperations } from '@dystracer/core/build-files/wire'
import type { Api } from '#platform/http/api'
import { signingKey } from '#subjects/people/index'
import { listBuildFiles, openBuildFile } from './build-files.views.js'
import { findBuildFiles, listReleaseFiles } from './found-files.views.js'
import { readProvenance } from './provenance.views.js'

export function addBuildFilesRoutes(api: Api): void {
  const buildOf = ({ repository, number }: { repository: string; number: string }) => ({ repository, build: Number(number) })
  api.handle(buildFilesOperations.listBuildFiles, ({ ctx, params }) => ({ rows: listBuildFiles(ctx, buildOf(params)) }))
  api.handle(buildFilesOperations.findBuildFiles, ({ ctx, who, query }) => ({ rows: findBuildFiles(ctx, who, query.sha256) }))
  api.handle(buildFilesOperations.listReleaseFiles, ({ ctx, params }) => ({ rows: listReleaseFiles(ctx, params.release) }))
  api.handle(buildFilesOperations.readProvenance, ({ ctx, params }) => readProvenance(ctx, buildOf(params)))
  api.handle(buildFilesOperations.readSigningKey, ({ ctx }) => signingKey(ctx.db))
  api.handle(buildFilesOperations.readBuildFile, ({ ctx, params, koa }) => {
    const { name, sizeBytes, stream } = openBuildFile(ctx, { ...buildOf(params), fileId: params.fileId })
    koa.body = stream
    koa.length = sizeBytes
    // Whatever it is, a browser only saves it: nothing in it acts here.
    koa.attachment(name)
    koa.set({ 'content-type': 'application/octet-stream', 'x-content-type-options': 'nosniff' })
  })
}
