import { Readable } from 'node:stream'
import { buildLogsOperations } from '@dystracer/core/build-logs/wire'
import type { Api } from '#platform/http/api'
import { findInLog, listBuildLogs, logText, readLogLines } from './build-logs.views.js'

export function addBuildLogsRoutes(api: Api): void {
  const buildOf = ({ repository, number }: { repository: string; number: string }) => ({ repository, build: Number(number) })
  api.handle(buildLogsOperations.listBuildLogs, async ({ ctx, params }) => ({ rows: await listBuildLogs(ctx, buildOf(params)) }))
  api.handle(buildLogsOperations.readLogLines, ({ ctx, params, query: { from, count, ...which } }) =>
    readLogLines(ctx, { ...buildOf(params), ...which }, { from, count }),
  )
  api.handle(buildLogsOperations.findInLog, ({ ctx, params, query: { text, ...which } }) =>
    findInLog(ctx, { ...buildOf(params), ...which }, text),
  )
  api.handle(buildLogsOperations.readLogText, ({ ctx, params, query, koa }) => {
    const which = { ...buildOf(params), ...query }
    koa.body = Readable.from(logText(ctx, which))
    koa.set({
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': `attachment; filename="${`${which.repository}-${which.build}-${which.step}`.replace(/[^\w.-]/g, '_')}.log"`,
    })
  })
}
