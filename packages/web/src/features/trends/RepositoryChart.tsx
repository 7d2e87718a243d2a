import type { Trend, TrendChart } from '@dystracer/core/trends/wire'
import { useMemo } from 'react'
import { axisDate } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { BarChart, type BarSeries } from '#shared/charts/BarChart'
import { LineChart } from '#shared/charts/LineChart'
import { Quiet } from '#shared/ui/parts'
import { BuildTable } from './BuildTable'
import { Tile } from './Tile'
import { knownBuilds, TREND_LOOK } from './trend-look'

/** One chart of how a repository's builds go; a click on a build opens it. */
export function RepositoryChart({
  trend,
  chart,
  isMovable = false,
}: {
  trend: Trend
  chart: TrendChart
  /** Among the pinned ones it says of which repository it is. */
  isMovable?: boolean
}) {
  const trail = usePaneTrail()
  const look = TREND_LOOK[chart]
  const { repository } = trend
  const builds = useMemo(() => knownBuilds(trend, chart), [trend, chart])
  const drawn = useMemo(() => {
    const span = { fromMs: builds[0]?.atMs ?? 0, toMs: builds.at(-1)?.atMs ?? 0 }
    return {
      labels: builds.map(({ atMs }) => axisDate(atMs, span)),
      series: (look.bars ?? []).map(({ of, colour }): BarSeries => ({ values: builds.map(of), colour })),
      values: builds.map((build) => look.line?.(build) ?? null),
    }
  }, [builds, look])
  const newest = builds.at(-1)
  const name = isMovable ? `${repository}: ${look.name}` : look.name
  const onPick = (at: number) => {
    const build = builds[at]
    if (build) trail.open({ kind: 'build', id: `${repository}/${build.number}` })
  }
  return (
    <Tile chart={{ chart, repository }} name={name} note={newest ? look.note(newest) : ''} isMovable={isMovable}>
      {newest === undefined ? (
        <Quiet>No build has reported this yet.</Quiet>
      ) : (
        <>
          {look.bars ? (
            <BarChart label={`${name}, by build`} labels={drawn.labels} series={drawn.series} onPick={onPick} />
          ) : (
            <LineChart label={`${name}, by build`} labels={drawn.labels} values={drawn.values} max={look.max} onPick={onPick} />
          )}
          <BuildTable
            repository={repository}
            columns={look.columns}
            rows={builds.map((build) => ({ ...build, values: look.cells(build) }))}
          />
        </>
      )}
    </Tile>
  )
}
