import { CASE_FILE_MAX_BYTES, casesOperations } from '@dystracer/core/cases/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Api } from '#platform/http/api'
import { readBody } from '#platform/http/read-body'
import { beginCase, doCase, importCases, planCases, retireCase, signPlan, writeCase } from './cases.commands.js'
import { casesAsCsv, casesAsMarkdown, listCases, listPlans, readCase, readPlan } from './cases.views.js'

export function addCasesRoutes(api: Api): void {
  api.handle(casesOperations.listCases, ({ ctx, who, params }) => ({ rows: listCases(ctx, who, params.project) }))
  api.handle(casesOperations.readCase, ({ ctx, who, params }) => readCase(ctx, who, params.project, numberOf(params.number)))
  api.handle(casesOperations.beginCase, ({ ctx, who, params, body }) =>
    readCase(ctx, who, params.project, beginCase(ctx, who, params.project, body)),
  )
  api.handle(casesOperations.writeCase, ({ ctx, who, params, body }) => {
    const number = numberOf(params.number)
    writeCase(ctx, who, params.project, number, body)
    return readCase(ctx, who, params.project, number)
  })
  api.handle(casesOperations.retireCase, ({ ctx, who, params, body }) => {
    const number = numberOf(params.number)
    retireCase(ctx, who, params.project, number, body.isRetired)
    return readCase(ctx, who, params.project, number)
  })
  api.handle(casesOperations.exportCases, ({ ctx, who, params, koa }) => {
    koa.set({ 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="cases.csv"' })
    koa.body = casesAsCsv(ctx, who, params.project)
  })
  api.handle(casesOperations.exportCasesAsMarkdown, ({ ctx, who, params, koa }) => {
    koa.set({ 'content-type': 'text/markdown; charset=utf-8', 'content-disposition': 'attachment; filename="cases.md"' })
    koa.body = casesAsMarkdown(ctx, who, params.project)
  })
  api.handle(casesOperations.importCases, async ({ ctx, who, params, query, koa }) =>
    importCases(ctx, who, { project: params.project, isTrial: query.trial, body: await readBody(koa.req, CASE_FILE_MAX_BYTES) }),
  )
  api.handle(casesOperations.listTestPlans, ({ ctx, who, params }) => ({ rows: listPlans(ctx, who, params.project) }))
  api.handle(casesOperations.readTestPlan, ({ ctx, who, params }) => readPlan(ctx, who, params.project, params.planId))
  api.handle(casesOperations.makeTestPlan, ({ ctx, who, params, body }) =>
    readPlan(ctx, who, params.project, planCases(ctx, who, params.project, body)),
  )
  api.handle(casesOperations.changeTestPlan, ({ ctx, who, params, body }) => {
    planCases(ctx, who, params.project, body, params.planId)
    return readPlan(ctx, who, params.project, params.planId)
  })
  api.handle(casesOperations.doCase, ({ ctx, who, params, body }) => {
    doCase(ctx, who, params.project, params.planId, body)
    return readPlan(ctx, who, params.project, params.planId)
  })
  api.handle(casesOperations.signTestPlan, ({ ctx, who, params, body }) => {
    signPlan(ctx, who, params, body)
    return readPlan(ctx, who, params.project, params.planId)
  })
}

function numberOf(text: string): number {
  const number = /^\d{1,7}$/.test(text) ? Number(text) : 0
  if (number === 0) throw new Problem('not-found', { detail: `“${text}” is no number of a test case.` })
  return number
}
