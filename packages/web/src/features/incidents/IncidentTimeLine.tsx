import type { IncidentDetail, IncidentEntry } from '@dystracer/core/incidents/wire'
import { format, isSameDay } from 'date-fns'
import { Fragment } from 'react'
import { usePeople } from '#features/people/index'
import { fullDate } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Button, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useRemoveIncidentNoteMutation } from './incidents.api'

/** What happened around an incident, oldest first: the rule beside it is copper while it lasted. */
export function IncidentTimeLine({ incident, mayHandle }: { incident: IncidentDetail; mayHandle: boolean }) {
  const [remove] = useRemoveIncidentNoteMutation()
  const of = { project: incident.project, number: String(incident.number) }
  const isDuring = (atMs: number) => atMs >= incident.startedAtMs && atMs <= (incident.overAtMs ?? Number.POSITIVE_INFINITY)
  return (
    <section aria-label="What happened when" className="border-t border-edge px-4 py-3">
      <SectionHead>What happened when</SectionHead>
      <ol className="m-0 list-none p-0">
        {incident.entries.map((entry, at) => {
          const before = incident.entries[at - 1]
          return (
            <Fragment key={keyOf(entry)}>
              {(!before || !isSameDay(before.atMs, entry.atMs)) && (
                <li className="pt-1 text-[12px] text-ink-3">{format(entry.atMs, 'EEEE d MMMM yyyy')}</li>
              )}
              <li className="flex items-start gap-3 leading-6">
                <time
                  dateTime={new Date(entry.atMs).toISOString()}
                  title={fullDate(entry.atMs)}
                  className={`w-[52px] shrink-0 self-stretch border-r-[3px] font-mono text-[12px] leading-6 text-ink-2
                    ${isDuring(entry.atMs) ? 'border-fault' : 'border-edge'}`}
                >
                  {format(entry.atMs, 'HH:mm')}
                </time>
                <span className="min-w-0 flex-1 break-words">
                  <Words entry={entry} />
                </span>
                {entry.kind === 'note' && mayHandle && (
                  <Button
                    look="text"
                    aria-label={`Take back the note of ${format(entry.atMs, 'HH:mm')}`}
                    onClick={async () => tellRefusal(await remove({ ...of, note: entry.noteId }))}
                  >
                    take back
                  </Button>
                )}
              </li>
            </Fragment>
          )
        })}
      </ol>
    </section>
  )
}

function Words({ entry }: { entry: IncidentEntry }) {
  const { nameOf } = usePeople()
  switch (entry.kind) {
    case 'began':
      return <b className="text-fault">It began</b>
    case 'over':
      return <b>It was over</b>
    case 'note':
      return (
        <>
          {entry.text} <span className="text-ink-2">· {nameOf(entry.by)}</span>
        </>
      )
    case 'deployment':
      return (
        <>
          <ThingLink to={{ kind: 'release', id: entry.about }} /> <span className="text-ink-2">{stateWords(entry)}</span>
        </>
      )
    case 'fault':
      return (
        <>
          <ThingLink to={{ kind: 'fault', id: entry.about }} /> first seen: {entry.title}
        </>
      )
    case 'merge':
      return (
        <>
          <ThingLink to={{ kind: 'pull-request', id: entry.about }} /> merged: {entry.title}
        </>
      )
  }
}

const STATES: Record<string, string> = { running: 'went to', replaced: 'went to', failed: 'failed on its way to', asked: 'is asked for in' }

function stateWords({ state, environment }: { state: string; environment: string }): string {
  return `${STATES[state] ?? `${state}:`} ${environment}`
}

function keyOf(entry: IncidentEntry): string {
  return entry.kind === 'note' ? entry.noteId : `${entry.kind} ${entry.atMs} ${'about' in entry ? entry.about : ''}`
}
