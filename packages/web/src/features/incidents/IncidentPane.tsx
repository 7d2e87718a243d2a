import type { IncidentDetail } from '@dystracer/core/incidents/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { age, plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, Severity, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { IncidentDialog } from './IncidentDialog'
import { IncidentItems } from './IncidentItems'
import { IncidentTimeLine } from './IncidentTimeLine'
import { NoteForm } from './NoteForm'
import { useEndIncidentMutation, useIncidentQuery } from './incidents.api'
import { lasting } from '#shared/lib/instants'

/** An incident: how it stands, what ran and failed, why, what happened when, and what follows. */
export function IncidentPane({ id }: { id: string }) {
  const [project = '', number = ''] = id.split('/')
  const { data, error, isLoading } = useIncidentQuery({ project, number })
  const mayHandle = usePeople().may('incidents.handle', project)
  const [isChanging, setIsChanging] = useState(false)
  if (!data)
    return (
      <Pane label={`Incident ${number}`} title={`Incident ${number}`}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={`Incident ${number}`}
      title={
        <>
          <span className="text-ink-2">{number}</span> {data.title}
        </>
      }
      aside={
        mayHandle && (
          <Button look="text" onClick={() => setIsChanging(true)}>
            change…
          </Button>
        )
      }
      foot={mayHandle && <NoteForm of={{ project, number }} startedAtMs={data.startedAtMs} />}
    >
      {isChanging && <IncidentDialog project={project} incident={data} onClose={() => setIsChanging(false)} />}
      <Stand incident={data} mayHandle={mayHandle} />
      <Running incident={data} />
      {data.cause.trim() !== '' && (
        <section aria-label="Cause" className="border-t border-edge px-4 py-3">
          <SectionHead>Why it came about</SectionHead>
          <Markdown text={data.cause} />
        </section>
      )}
      <IncidentTimeLine incident={data} mayHandle={mayHandle} />
      <IncidentItems incident={data} mayHandle={mayHandle} />
    </Pane>
  )
}

function Stand({ incident, mayHandle }: { incident: IncidentDetail; mayHandle: boolean }) {
  const { nameOf } = usePeople()
  const [end, { isLoading }] = useEndIncidentMutation()
  const of = { project: incident.project, number: String(incident.number) }
  const say = async (overAtMs: number | null) => tellRefusal(await end({ ...of, overAtMs }))
  return (
    <div className="flex items-start gap-3 px-4 py-3">
      <Severity value={incident.severity} />
      <div className="min-w-0 flex-1 leading-6">
        <p className="m-0">
          {incident.overAtMs === null ? (
            <b className="text-fault">Goes on for {age(incident.startedAtMs)}</b>
          ) : (
            <b>Over after {lasting(incident.overAtMs - incident.startedAtMs)}</b>
          )}
          <span className="text-ink-2">
            , since <When atMs={incident.startedAtMs} /> in {incident.environment}, {incident.service ?? 'several services or not known'}
          </span>
        </p>
        <p className="m-0 text-ink-2">
          {incident.leadId === null ? 'Nobody leads yet' : `${nameOf(incident.leadId)} leads`}; opened by {nameOf(incident.openedBy)}
        </p>
      </div>
      {mayHandle &&
        (incident.overAtMs === null ? (
          <Button look="main" disabled={isLoading} onClick={() => void say(Date.now())}>
            It is over
          </Button>
        ) : (
          <Button look="line" disabled={isLoading} onClick={() => void say(null)}>
            It goes on
          </Button>
        ))}
    </div>
  )
}

/** What ran there meanwhile, what failed most, and which requirements the items behind it break. */
function Running({ incident: { releases, faults, requirements } }: { incident: IncidentDetail }) {
  if (releases.length + faults.length + requirements.length === 0) return null
  return (
    <section aria-label="What ran and failed" className="border-t border-edge px-4 py-3 leading-6">
      {releases.length > 0 && (
        <p className="m-0">
          <span className="text-ink-2">Ran meanwhile: </span>
          {releases.map(({ release, fromMs }, at) => (
            <span key={`${release} ${fromMs}`}>
              {at > 0 && ', '}
              <ThingLink to={{ kind: 'release', id: release }} />
            </span>
          ))}
        </p>
      )}
      {requirements.length > 0 && (
        <p className="m-0">
          <span className="text-ink-2">Breaks: </span>
          {requirements.map((key) => (
            <ThingLink key={key} to={{ kind: 'requirement', id: key }} className="mr-2" />
          ))}
        </p>
      )}
      {faults.map(({ fault, title, count }) => (
        <p key={fault} className="m-0 flex gap-3">
          <ThingLink to={{ kind: 'fault', id: fault }} className="shrink-0" />
          <span className="min-w-0 flex-1 truncate" title={title}>
            {title}
          </span>
          <span className="shrink-0 text-fault">{plural(count, 'time')}</span>
        </p>
      ))}
    </section>
  )
}
