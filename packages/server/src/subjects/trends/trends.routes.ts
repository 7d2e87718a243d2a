import { trendsOperations } from '@dystracer/core/trends/wire'
import type { Api } from '#platform/http/api'
import { setPinnedCharts } from './trends.commands.js'
import { listPinnedCharts, listUncoveredFailures, readBuildCoverage, readTrend } from './trends.views.js'

export function addTrendsRoutes(api: Api): void {
  api.handle(trendsOperations.readTrend, ({ ctx, params }) => readTrend(ctx, params.repository))
  api.handle(trendsOperations.readBuildCoverage, ({ ctx, params }) => readBuildCoverage(ctx, params.repository, Number(params.number)))
  api.handle(trendsOperations.listUncoveredFailures, async ({ ctx, who, params }) => ({
    rows: await listUncoveredFailures(ctx, who, params.repository, Number(params.number)),
  }))
  api.handle(trendsOperations.listPinnedCharts, ({ ctx, who, params }) => ({ charts: listPinnedCharts(ctx, who, params.project) }))
  api.handle(trendsOperations.setPinnedCharts, ({ ctx, who, params, body }) => {
    setPinnedCharts(ctx, who, params.project, body.charts)
    return { charts: listPinnedCharts(ctx, who, params.project) }
  })
}
