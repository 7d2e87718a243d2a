import { zAtMs } from '#basics/wire'
import { operation } from '#people/operation'
import { z } from 'zod'

/** What a chart shows of a repository’s builds: outcomes of tests, how long they take, lines that tests run, flaky tests, findings. */
export const TREND_CHARTS = ['tests', 'duration', 'coverage', 'flaky', 'findings'] as const
/** One of those. */
export type TrendChart = (typeof TREND_CHARTS)[number]
/** A chart that is pinned: of a repository, or of one of its tests. */
export const zPinnedChart = z.union([
  z.strictObject({ chart: z.enum(TREND_CHARTS), repository: z.string().min(1).max(100) }),
  z.strictObject({
    chart: z.literal('test'),
    repository: z.string().min(1).max(100),
    suite: z.string().max(500),
    name: z.string().min(1).max(500),
  }),
])
/** A chart that is pinned: of a repository, or of one of its tests. */
export type PinnedChart = z.infer<typeof zPinnedChart>
/** By what a pinned chart is known among others. */
export function keyOfChart(chart: PinnedChart): string {
  return JSON.stringify([chart.chart, chart.repository, ...(chart.chart === 'test' ? [chart.suite, chart.name] : [])])
}
/** So many charts are pinned at most: more are read by nobody. */
export const PINNED_MAX = 24

/** One build of a trend; null where nothing was reported of it that would say it. */
export const zTrendBuild = z.object({
  number: z.number().int(),
  name: z.string(),
  atMs: zAtMs,
  passed: z.number().int(),
  failed: z.number().int(),
  skipped: z.number().int(),
  flaky: z.number().int(),
  durationMs: z.number().int().nullable(),
  /** Of a hundred lines so many are run by tests. */
  covered: z.number().nullable(),
  findings: z.object({ bug: z.number().int(), weakness: z.number().int(), smell: z.number().int() }).nullable(),
})
export type TrendBuild = z.infer<typeof zTrendBuild>
/** The newest builds of a repository’s main line that ended, oldest first. */
export const zTrend = z.object({ repository: z.string(), branch: z.string(), builds: z.array(zTrendBuild) })
export type Trend = z.infer<typeof zTrend>

const zCoveredFile = z.object({
  path: z.string(),
  covered: z.number().int(),
  missed: z.number().int(),
  /** Lines that no test ran, as ranges (`1-5 8`). */
  missedLines: z.string(),
  /** Lines that are not run, more than in the build before; negative where they are fewer. */
  more: z.number().int(),
})
/** What the tests of a build ran, against the nearest measured build of its branch before it. */
export const zBuildCoverage = z.object({
  covered: z.number().int(),
  missed: z.number().int(),
  before: z.object({ number: z.number().int(), name: z.string(), covered: z.number().int(), missed: z.number().int() }).nullable(),
  /** Those with the most lines that are not run first, at most 2000. */
  files: z.array(zCoveredFile),
})
export type BuildCoverage = z.infer<typeof zBuildCoverage>
/** A line that no test ran and that failed in production. */
export const zUncoveredFailure = z.object({
  path: z.string(),
  line: z.number().int(),
  source: z.string(),
  fault: z.string(),
  title: z.string(),
})
export type UncoveredFailure = z.infer<typeof zUncoveredFailure>

/** What can be asked of trends. */
export const trendsOperations = {
  readTrend: operation({
    method: 'get',
    path: '/repositories/:repository/trend',
    summary: 'How the newest hundred builds of the main line went: tests, pace, coverage, findings',
    may: 'project.read',
    about: 'repository',
    answer: zTrend,
  }),
  readBuildCoverage: operation({
    method: 'get',
    path: '/builds/:repository/:number/coverage',
    summary: 'What the tests of a build ran, and in which files that fell against the build before',
    may: 'project.read',
    about: 'repository',
    answer: zBuildCoverage,
  }),
  listUncoveredFailures: operation({
    method: 'get',
    path: '/builds/:repository/:number/uncovered-failures',
    summary: 'Lines that no test of a build ran and that failed in production, by the newest twenty faults of the repository’s services',
    may: 'project.read',
    about: 'repository',
    answer: z.object({ rows: z.array(zUncoveredFailure) }),
  }),
  listPinnedCharts: operation({
    method: 'get',
    path: '/projects/:project/pinned-charts',
    summary: 'The charts that a project pinned, in their order; those of what the asker may not see are left out',
    may: 'project.read',
    about: 'project',
    answer: z.object({ charts: z.array(zPinnedChart) }),
  }),
  setPinnedCharts: operation({
    method: 'put',
    path: '/projects/:project/pinned-charts',
    summary: 'Set the pinned charts of a project anew, all of them in their order',
    may: 'views.save',
    about: 'project',
    body: z.strictObject({ charts: z.array(zPinnedChart).max(PINNED_MAX, `At most ${PINNED_MAX} charts are pinned`) }),
    answer: z.object({ charts: z.array(zPinnedChart) }),
  }),
}
