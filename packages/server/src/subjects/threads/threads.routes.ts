import { impactOperations } from '@dystracer/core/threads/impact-wire'
import { matrixOperations } from '@dystracer/core/threads/matrix-wire'
import { threadsOperations } from '@dystracer/core/threads/wire'
import type { Api } from '#platform/http/api'
import { readImpact } from './impact.views.js'
import { matrixAsCsv, matrixAsHtml, readMatrix } from './matrix.views.js'
import { readThread } from './threads.views.js'

export function addThreadsRoutes(api: Api): void {
  api.handle(threadsOperations.readThread, ({ ctx, who, params }) => readThread(ctx, who, params.id))
  api.handle(impactOperations.readImpact, ({ ctx, who, params }) => readImpact(ctx, who, params.key.toUpperCase()))
  api.handle(matrixOperations.readMatrix, ({ ctx, who, params, query }) => readMatrix(ctx, who, { ...params, ...query }))
  api.handle(matrixOperations.exportMatrix, ({ ctx, who, params, query, koa }) => {
    koa.set({ 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="matrix.csv"' })
    koa.body = matrixAsCsv(readMatrix(ctx, who, { ...params, ...query }))
  })
  api.handle(matrixOperations.exportMatrixAsHtml, ({ ctx, who, params, query, koa }) => {
    koa.set({ 'content-type': 'text/html; charset=utf-8', 'content-disposition': 'attachment; filename="matrix.html"' })
    koa.body = matrixAsHtml(params.project, readMatrix(ctx, who, { ...params, ...query }))
  })
}
