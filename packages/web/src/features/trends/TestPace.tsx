import { useMemo } from 'react'
import { useTestRecordQuery } from '#features/builds/builds.api'
import { axisDate, durationText } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { LineChart } from '#shared/charts/LineChart'
import { Pending } from '#shared/ui/parts'
import { BuildTable } from './BuildTable'
import { Tile } from './Tile'

/** How long one test took, build by build. */
export function TestPace({ test, isMovable = false }: { test: { repository: string; suite: string; name: string }; isMovable?: boolean }) {
  const { repository, suite, name } = test
  const { data, error, isLoading } = useTestRecordQuery({ repository, suite, name })
  const trail = usePaneTrail()
  const runs = useMemo(() => data?.outcomes.filter(({ outcome }) => outcome !== 'skipped').reverse() ?? [], [data])
  const drawn = useMemo(() => {
    const span = { fromMs: runs[0]?.atMs ?? 0, toMs: runs.at(-1)?.atMs ?? 0 }
    return { labels: runs.map(({ atMs }) => axisDate(atMs, span)), values: runs.map(({ durationMs }) => durationMs) }
  }, [runs])
  const newest = runs.at(-1)
  const label = isMovable ? `${repository}: how long “${name}” takes, in milliseconds` : 'How long it takes, in milliseconds'
  if (!isMovable && !newest) return null
  return (
    <Tile
      chart={{ chart: 'test', repository, suite, name }}
      name={label}
      note={newest ? durationText(newest.durationMs) : ''}
      isMovable={isMovable}
    >
      <Pending error={error} isLoading={isLoading} />
      {newest && (
        <>
          <LineChart
            label={`${label}, by build`}
            {...drawn}
            onPick={(at) => {
              const run = runs[at]
              if (run) trail.open({ kind: 'build', id: `${repository}/${run.number}` })
            }}
          />
          <BuildTable
            repository={repository}
            columns={['outcome', 'took']}
            rows={runs.map((run) => ({
              number: run.number,
              name: run.build,
              atMs: run.atMs,
              values: [run.outcome, durationText(run.durationMs)],
            }))}
          />
        </>
      )}
    </Tile>
  )
}
