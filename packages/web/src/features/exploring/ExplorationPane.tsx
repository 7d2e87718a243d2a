import type { ExplorationDetail } from '@dystracer/core/exploring/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { KeyLink, ThingLink } from '#shared/ui/ThingLink'
import { Ending } from './Ending'
import { ExplorationDialog } from './ExplorationDialog'
import { useExplorationQuery, useSetExplorationClockMutation, useSetExplorationPointMutation } from './exploring.api'
import { Notes } from './Notes'
import { useSpentMinutes } from './spent'
import { apiRoot } from '#shared/lib/past'

/** An exploration: its question, points to tick off, the clock, notes, and what came of it. */
export function ExplorationPane({ id }: { id: string }) {
  const [project = '', explorationId = ''] = id.split('/')
  const { data, error, isLoading } = useExplorationQuery({ project, explorationId })
  const { may } = usePeople()
  const [isOpen, setIsOpen] = useState(false)
  const canWrite = may('tests.write', project)
  return (
    <Pane
      label="Exploration"
      title={data?.question ?? 'Exploration'}
      aside={
        canWrite &&
        data && (
          <Button look="text" onClick={() => setIsOpen(true)}>
            change
          </Button>
        )
      }
      foot={
        <a className="link" href={`${apiRoot}/projects/${project}/explorations/${explorationId}/report.md`} download>
          as Markdown
        </a>
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && <Whole data={data} canWrite={canWrite} />}
      {isOpen && data && <ExplorationDialog project={project} row={data} onClose={() => setIsOpen(false)} />}
    </Pane>
  )
}

function Whole({ data, canWrite }: { data: ExplorationDetail; canWrite: boolean }) {
  const { nameOf } = usePeople()
  const { project, text, release, about, by, atMs, ended } = data
  return (
    <>
      <div className="px-4 py-3">
        <p className="text-ink-2">
          by {nameOf(by)}, <When atMs={atMs} />
          {release !== null && (
            <>
              {' '}
              · of <ThingLink to={{ kind: 'release', id: release }}>{release}</ThingLink>
            </>
          )}
          {about.length > 0 && ' · about '}
          {about.map((key) => (
            <KeyLink key={key} project={project} name={key} />
          ))}
        </p>
        {text.trim() !== '' && <Markdown text={text} />}
        <Clock data={data} canWrite={canWrite && ended === null} />
      </div>
      <Points data={data} canWrite={canWrite && ended === null} />
      <Notes data={data} canWrite={canWrite && ended === null} />
      <Ending data={data} canWrite={canWrite} />
    </>
  )
}

function Clock({ data, canWrite }: { data: ExplorationDetail; canWrite: boolean }) {
  const [set, { isLoading }] = useSetExplorationClockMutation()
  const minutes = useSpentMinutes(data)
  const { project, explorationId, boxMinutes, runningSinceMs } = data
  const isRunning = runningSinceMs !== null
  const isOver = boxMinutes !== null && minutes >= boxMinutes
  return (
    <p className="m-0 mt-2 flex items-baseline gap-3">
      <span>
        <span className={`text-[22px] ${isOver ? 'text-ochre' : ''}`}>{minutes}</span> min
        {boxMinutes !== null && ` of ${boxMinutes}`}
        {isOver && <span className="text-ochre">: its time is over</span>}
      </span>
      {canWrite && (
        <Button
          look={isRunning ? 'line' : 'main'}
          disabled={isLoading}
          onClick={() => void set({ project, explorationId, isRunning: !isRunning }).then(tellRefusal)}
        >
          {isRunning ? 'Stop the clock' : minutes === 0 ? 'Begin to look' : 'Go on'}
        </Button>
      )}
    </p>
  )
}

function Points({ data: { project, explorationId, points }, canWrite }: { data: ExplorationDetail; canWrite: boolean }) {
  const [set] = useSetExplorationPointMutation()
  if (points.length === 0) return null
  return (
    <section aria-label="Points to look at" className="border-t border-edge px-4 py-3">
      <SectionHead>Points to look at</SectionHead>
      <ul className="m-0 list-none p-0">
        {points.map(({ point, isDone }) => (
          <li key={point} className="border-b border-edge-soft last:border-0">
            <label className={`flex min-h-[30px] items-center gap-2 ${isDone ? 'text-ink-3' : ''}`}>
              <input
                type="checkbox"
                checked={isDone}
                disabled={!canWrite}
                onChange={() => void set({ project, explorationId, point, isDone: !isDone }).then(tellRefusal)}
              />
              {point}
            </label>
          </li>
        ))}
      </ul>
    </section>
  )
}
