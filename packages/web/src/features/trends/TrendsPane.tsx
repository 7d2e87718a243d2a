import { TREND_CHARTS } from '@dystracer/core/trends/wire'
import { Pane } from '#shared/ui/Pane'
import { Pending, Quiet } from '#shared/ui/parts'
import { RepositoryChart } from './RepositoryChart'
import { useTrendQuery } from './trends.api'

/** How the builds of a repository's main line go. */
export function TrendsPane({ id: repository }: { id: string }) {
  const { data, error, isLoading } = useTrendQuery(repository)
  return (
    <Pane
      label={`Trends of ${repository}`}
      title={`Trends of ${repository}`}
      note={data && `${data.builds.length} builds of ${data.branch}`}
    >
      <Pending error={error} isLoading={isLoading} />
      {data?.builds.length === 0 && <Quiet>No build of {data.branch} has ended yet.</Quiet>}
      {data && data.builds.length > 0 && (
        <div className="space-y-5 px-4 py-3">
          {TREND_CHARTS.map((chart) => (
            <RepositoryChart key={chart} trend={data} chart={chart} />
          ))}
        </div>
      )}
    </Pane>
  )
}
