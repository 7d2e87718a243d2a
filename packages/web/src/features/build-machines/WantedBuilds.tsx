import type { BuildMachine, WantedBuild } from '@dystracer/core/build-machines/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Button, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useStopWantedBuildMutation, useWantedBuilds } from './build-machines.api'
import { isAskedFor, stateWords } from './wanted-words'
import { WantBuildDialog } from './WantBuildDialog'

/** Builds that wait or run, each to be stopped; and wanting one. */
export function WantedBuilds() {
  const { may } = usePeople()
  const { data } = useWantedBuilds()
  const [isOpen, setIsOpen] = useState(false)
  const open = (data?.rows ?? []).filter((row) => row.state !== 'ended')
  if (open.length === 0 && !may('code.contribute')) return null
  return (
    <section aria-label="Wanted builds" className="border-b border-edge-soft px-3 py-1 text-[12px]">
      {open.map((row) => (
        <WantedLine key={row.wantedId} row={row} machines={data?.machines ?? []} />
      ))}
      {may('code.contribute') && (
        <Button look="line" className="my-0!" onClick={() => setIsOpen(true)}>
          Build a branch…
        </Button>
      )}
      {isOpen && <WantBuildDialog onClose={() => setIsOpen(false)} />}
    </section>
  )
}

function WantedLine({ row, machines }: { row: WantedBuild; machines: readonly BuildMachine[] }) {
  const { nameOf } = usePeople()
  const { repository, number, branch, sha, by, wantedAtMs, isAgain } = row
  return (
    <p className="m-0 flex gap-3 leading-6">
      <span className="min-w-0 flex-1 truncate">
        {number === null ? (
          <b>
            {repository} {branch || sha.slice(0, 7)}
          </b>
        ) : (
          <ThingLink to={{ kind: 'build', id: `${repository}/${number}` }} className="leading-6">
            {repository} {number}
          </ThingLink>
        )}{' '}
        {isAgain && 'again, '}
        {stateWords(row, isAskedFor(repository, machines))} <span className="text-ink-2">· {by === null ? 'by a push' : nameOf(by)}, </span>
        <span className="text-ink-2">
          <When atMs={wantedAtMs} />
        </span>
      </span>
      <StopButton row={row} />
    </p>
  )
}

/** Stops a build that waits or runs. */
export function StopButton({ row }: { row: WantedBuild }) {
  const { may } = usePeople()
  const [stop, { isLoading }] = useStopWantedBuildMutation()
  if (!may('code.contribute') || row.state === 'ended') return null
  const { repository, wantedId } = row
  return (
    <Button
      look="line"
      className="my-0!"
      disabled={isLoading || row.state === 'stopping'}
      onClick={() => void stop({ repository, wantedId }).then(tellRefusal)}
    >
      Stop
    </Button>
  )
}
