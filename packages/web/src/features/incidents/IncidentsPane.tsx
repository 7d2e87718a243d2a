import type { Incident } from '@dystracer/core/incidents/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { age } from '#shared/lib/format'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, Severity, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { IncidentDialog } from './IncidentDialog'
import { useIncidentsInfiniteQuery } from './incidents.api'
import { lasting } from '#shared/lib/instants'

/** When something went wrong for people, newest first. */
export function IncidentsPane() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const [isOpening, setIsOpening] = useState(false)
  return (
    <Pane
      label="Incidents"
      title="Incidents"
      note="newest first"
      foot={
        may('incidents.handle') && (
          <Button look="line" onClick={() => setIsOpening(true)}>
            Open an incident…
          </Button>
        )
      }
    >
      {isOpening && <IncidentDialog project={project} onClose={() => setIsOpening(false)} />}
      {project !== '' && <List project={project} />}
    </Pane>
  )
}

function List({ project }: { project: string }) {
  const { rows, onNearEnd, data, error, isLoading } = usePages(useIncidentsInfiniteQuery(project))
  const trail = usePaneTrail()
  if (!data) return <Pending error={error} isLoading={isLoading} />
  if (rows.length === 0)
    return (
      <Quiet>
        No incident yet. Open one when something goes wrong for people: what ran, changed and failed around it is gathered by itself.
      </Quiet>
    )
  return (
    <RowList
      label="Incidents"
      rows={rows}
      idOf={(row) => `${project}/${row.number}`}
      selectedId={trail.next?.id ?? null}
      rowHeightPx={46}
      onNearEnd={onNearEnd}
      onShow={(row, isStep) => trail.open({ kind: 'incident', id: `${project}/${row.number}` }, { isStep })}
      renderRow={(row) => <Row row={row} />}
    />
  )
}

function Row({ row }: { row: Incident }) {
  const { nameOf } = usePeople()
  return (
    <div className="flex min-w-0 flex-1 items-center gap-3 leading-5">
      <span className="w-[28px] shrink-0 font-mono text-[12px] text-ink-2">{row.number}</span>
      <Severity value={row.severity} />
      <span className="min-w-0 flex-1">
        <span className={`block truncate ${row.overAtMs === null ? 'font-bold' : ''}`}>{row.title}</span>
        <span className="block truncate text-[12px] text-ink-2">
          {row.service ?? 'several services'}, {row.environment}
          {row.leadId !== null && ` · ${nameOf(row.leadId)} leads`}
          {row.openFollowUps > 0 && ` · ${row.openFollowUps} of ${row.followUps} to be done after it`}
        </span>
      </span>
      <span className="shrink-0 text-right text-[12px]">
        {row.overAtMs === null ? (
          <span className="font-bold text-fault">goes on for {age(row.startedAtMs)}</span>
        ) : (
          <span className="text-ink-2">took {lasting(row.overAtMs - row.startedAtMs)}</span>
        )}
        <span className="block text-ink-3">
          <When atMs={row.startedAtMs} />
        </span>
      </span>
    </div>
  )
}
