import type { Exploration } from '@dystracer/core/exploring/wire'
import { plural } from '#shared/lib/format'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { useExplorationsQuery } from './exploring.api'
import { useSpentMinutes } from './spent'

/** The explorations of a project: those that go on first. */
export function Explorations({ project }: { project: string }) {
  const { data, error, isLoading } = useExplorationsQuery(project)
  const trail = usePaneTrail()
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (data.rows.length === 0)
    return (
      <Quiet>
        Nothing is explored yet. To explore is to look around with a question in mind: points to look at, a time for it, and notes of what
        you see.
      </Quiet>
    )
  return (
    <RowList
      label="Explorations"
      rows={data.rows}
      idOf={(row) => `${project}/${row.explorationId}`}
      selectedId={trail.next?.id ?? null}
      rowHeightPx={46}
      onShow={(row, isStep) => trail.open({ kind: 'exploration', id: `${project}/${row.explorationId}` }, { isStep })}
      renderRow={(row) => <Row row={row} />}
    />
  )
}

function Row({ row }: { row: Exploration }) {
  const { question, release, points, notes, ended, runningSinceMs, boxMinutes } = row
  const minutes = useSpentMinutes(row)
  return (
    <div className="min-w-0 flex-1 leading-5">
      <div className={`truncate font-bold ${ended ? 'text-ink-2' : ''}`}>{question}</div>
      <div className="flex gap-3 truncate text-[12px] text-ink-2">
        <span>
          {ended ? 'over' : runningSinceMs !== null ? <b className="text-ink">going on</b> : minutes === 0 ? 'not begun' : 'stands'}
        </span>
        <span>
          {minutes} min{boxMinutes !== null && ` of ${boxMinutes}`}
        </span>
        {points.all > 0 && (
          <span>
            {points.done} of {plural(points.all, 'point')}
          </span>
        )}
        <span>
          {plural(notes.all, 'note')}
          {notes.trouble > 0 && <span className="text-fault">, {notes.trouble} of trouble</span>}
        </span>
        {release !== null && <span className="truncate">{release}</span>}
      </div>
    </div>
  )
}
