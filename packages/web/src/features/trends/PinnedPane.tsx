import { keyOfChart, type TrendChart } from '@dystracer/core/trends/wire'
import { Pane } from '#shared/ui/Pane'
import { Pending, Quiet } from '#shared/ui/parts'
import { RepositoryChart } from './RepositoryChart'
import { TestPace } from './TestPace'
import { useTrendQuery } from './trends.api'
import { usePins } from './use-pins'

/** The charts that a project keeps in sight. */
export function PinnedPane() {
  const { charts, error, isLoading } = usePins()
  return (
    <Pane label="Pinned" title="Pinned" note="charts that the project keeps in sight">
      <Pending error={error} isLoading={isLoading} />
      {!isLoading && !error && charts.length === 0 && (
        <Quiet>Nothing is pinned yet. Charts are pinned where they stand: in the trends of a repository, or at a test.</Quiet>
      )}
      <div className="grid grid-cols-1 gap-x-8 gap-y-5 px-4 py-3 min-[1100px]:grid-cols-2">
        {charts.map((chart) =>
          chart.chart === 'test' ? (
            <TestPace key={keyOfChart(chart)} test={chart} isMovable />
          ) : (
            <PinnedTrend key={keyOfChart(chart)} repository={chart.repository} chart={chart.chart} />
          ),
        )}
      </div>
    </Pane>
  )
}

function PinnedTrend({ repository, chart }: { repository: string; chart: TrendChart }) {
  const { data, error, isLoading } = useTrendQuery(repository)
  if (!data) return <Pending error={error} isLoading={isLoading} />
  return <RepositoryChart trend={data} chart={chart} isMovable />
}
