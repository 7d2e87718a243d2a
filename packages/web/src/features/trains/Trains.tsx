import type { Train } from '@dystracer/core/trains/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { PlanDialog } from './PlanDialog'
import { STANDING_TONE, STANDING_WORDS } from './standing-words'
import { useTrainsQuery } from './trains.api'

/** So many of those that have arrived or were called off stand there; the others are asked for. */
const PAST_SHOWN = 3

/** Releases of several services that go out together, and how far each is; nothing where there are none and the reader may plan none. */
export function Trains() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data } = useTrainsQuery(project, { skip: project === '' })
  const [isPlanning, setIsPlanning] = useState(false)
  const [isAll, setIsAll] = useState(false)
  const rows = data?.rows ?? []
  const canPlan = may('releases.make')
  if (rows.length === 0 && !canPlan) return null
  const isPast = ({ standing }: Train) => standing === 'there' || standing === 'called-off'
  const past = rows.filter(isPast)
  return (
    <section aria-label="Trains" className="border-b border-edge px-4 py-3">
      <SectionHead>Trains: releases that go out together</SectionHead>
      <ul aria-label="Trains" className="m-0 list-none p-0">
        {[...rows.filter((row) => !isPast(row)), ...(isAll ? past : past.slice(0, PAST_SHOWN))].map((row) => (
          <Line key={row.trainId} row={row} />
        ))}
      </ul>
      {past.length > PAST_SHOWN && (
        <Button look="text" className="px-0! text-[12px]" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
          {isAll ? 'fewer' : `${past.length - PAST_SHOWN} earlier ones`}
        </Button>
      )}
      {canPlan && (
        <p className="mt-1">
          <Button look="line" onClick={() => setIsPlanning(true)}>
            Plan a train…
          </Button>
        </p>
      )}
      {isPlanning && <PlanDialog project={project} train={null} onClose={() => setIsPlanning(false)} />}
    </section>
  )
}

function Line({ row }: { row: Train }) {
  const trail = usePaneTrail()
  return (
    <li className={`border-b border-edge-soft py-1 ${row.standing === 'called-off' ? 'text-ink-3' : ''}`}>
      <button
        type="button"
        className="link min-h-6 font-bold"
        onClick={() => trail.open({ kind: 'train', id: `${row.project}/${row.trainId}` })}
      >
        {row.name}
      </button>{' '}
      <span className={STANDING_TONE[row.standing] ?? ''}>{STANDING_WORDS[row.standing]}</span>
      {row.standing === 'planned' && row.readyAtMs !== null && (
        <span className="text-ochre">
          {' '}
          · ready since <When atMs={row.readyAtMs} />
        </span>
      )}
      {row.leavesOn !== null && !['there', 'called-off'].includes(row.standing) && (
        <span className="text-ink-2"> · leaves on {row.leavesOn}</span>
      )}
      <span className="block text-[12px] text-ink-2">
        {row.cars.map(({ service, release }) => `${service} ${release ?? '(to be made)'}`).join(', ')}
      </span>
    </li>
  )
}
