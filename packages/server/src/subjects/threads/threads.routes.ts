import type { Context } from 'koa'
import type { Who } from '@dystracer/core/people/who'
import { AUDIT_COLUMNS, auditAsHtml, auditAsJson, auditRows } from '@dystracer/core/threads/audit-report'
import { auditReportOperations } from '@dystracer/core/threads/audit-wire'
import { impactOperations } from '@dystracer/core/threads/impact-wire'
import { matrixOperations } from '@dystracer/core/threads/matrix-wire'
import { threadsOperations } from '@dystracer/core/threads/wire'
import type { ServiceContext } from '#platform/context'
import { asCsv } from '#platform/csv'
import type { Api } from '#platform/http/api'
import { printPage, readAudit } from './audit.views.js'
import { readImpact } from './impact.views.js'
import { matrixAsCsv, matrixAsHtml, readMatrix } from './matrix.views.js'
import { readThread } from './threads.views.js'

function send(koa: Context, { type, name, body }: { type: string; name: string; body: string | Buffer }): void {
  koa.set({ 'content-type': type, 'content-disposition': `attachment; filename="${name}"` })
  koa.body = body
}

export function addThreadsRoutes(api: Api): void {
  api.handle(threadsOperations.readThread, ({ ctx, who, params }) => readThread(ctx, who, params.id))
  api.handle(impactOperations.readImpact, ({ ctx, who, params }) => readImpact(ctx, who, params.key.toUpperCase()))
  api.handle(matrixOperations.readMatrix, ({ ctx, who, params, query }) => readMatrix(ctx, who, { ...params, ...query }))
  api.handle(matrixOperations.exportMatrix, ({ ctx, who, params, query, koa }) => {
    send(koa, { type: 'text/csv; charset=utf-8', name: 'matrix.csv', body: matrixAsCsv(readMatrix(ctx, who, { ...params, ...query })) })
  })
  api.handle(matrixOperations.exportMatrixAsHtml, ({ ctx, who, params, query, koa }) => {
    const body = matrixAsHtml(params.project, readMatrix(ctx, who, { ...params, ...query }))
    send(koa, { type: 'text/html; charset=utf-8', name: 'matrix.html', body })
  })
  const auditPage = (ctx: ServiceContext, who: Who, project: string, against?: string) =>
    auditAsHtml(readAudit(ctx, who, project, against), { address: ctx.config.publicUrl })
  api.handle(auditReportOperations.readAuditPage, ({ ctx, who, params, query, koa }) => {
    // It is read where it is opened; nothing in it acts.
    koa.set({ 'content-type': 'text/html; charset=utf-8', 'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'" })
    koa.body = auditPage(ctx, who, params.project, query.against)
  })
  api.handle(auditReportOperations.readAuditTable, ({ ctx, who, params, query, koa }) => {
    const rows = auditRows(readAudit(ctx, who, params.project, query.against))
    send(koa, { type: 'text/csv; charset=utf-8', name: 'audit-report.csv', body: asCsv(AUDIT_COLUMNS, rows) })
  })
  api.handle(auditReportOperations.readAuditJson, ({ ctx, who, params, query, koa }) =>
    send(koa, {
      type: 'application/json; charset=utf-8',
      name: 'audit-report.json',
      body: auditAsJson(readAudit(ctx, who, params.project, query.against)),
    }),
  )
  api.handle(auditReportOperations.readAuditPdf, async ({ ctx, who, params, query, koa }) => {
    send(koa, {
      type: 'application/pdf',
      name: 'audit-report.pdf',
      body: await printPage(auditPage(ctx, who, params.project, query.against)),
    })
  })
}
