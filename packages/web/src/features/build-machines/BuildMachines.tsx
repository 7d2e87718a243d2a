import type { BuildMachine, WantedBuild } from '@dystracer/core/build-machines/wire'
import { TokenInPlace } from '#features/people/index'
import { Copyable } from '#shared/ui/Copyable'
import { SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useWantedBuilds } from './build-machines.api'

/** The machines that ask for builds, and how one more is started. */
export function BuildMachines() {
  const { data } = useWantedBuilds()
  const machines = data?.machines ?? []
  const origin = window.location.origin
  return (
    <section aria-label="Build machines">
      <SectionHead>Build machines</SectionHead>
      <p className="m-0 text-ink-2">
        A build machine is any computer that waits for builds, does what the code itself describes, and tells of it while it goes on.
      </p>
      {machines.map((machine) => (
        <MachineLine key={machine.name} machine={machine} rows={data?.rows ?? []} />
      ))}
      {machines.length === 0 && (
        <p className="m-0 py-1">None has asked since this server was started. To make one, on any machine with git:</p>
      )}
      <Copyable
        label="Command that makes a build machine"
        text={`curl -fsSO ${origin}/dys.mjs\nexport DYSTRACER_URL=${origin} DYSTRACER_TOKEN=…\nnode dys.mjs build --wait`}
      />
      <p className="my-1 text-[12px] text-ink-3">
        It runs what people push, with the rights of whoever starts it: give it an account of its own. git fetches with that account’s keys.
      </p>
      <TokenInPlace scope="evidence" name="build-machine" />
    </section>
  )
}

function MachineLine({ machine, rows }: { machine: BuildMachine; rows: readonly WantedBuild[] }) {
  const { name, isHere, lastSeenAtMs, repositories, wantedId } = machine
  const at = rows.find((row) => row.wantedId === wantedId)
  return (
    <p className="m-0 flex gap-3 border-b border-edge-soft leading-7">
      <b>{name}</b>
      <span className={isHere ? 'text-proof' : 'text-ochre'}>{isHere ? 'is here' : 'is silent'}</span>
      <span className="min-w-0 flex-1 truncate text-ink-2">
        {repositories.length === 0 ? 'builds whatever is wanted' : `builds ${repositories.join(', ')}`}
        {at?.number != null && (
          <>
            , now <ThingLink to={{ kind: 'build', id: `${at.repository}/${at.number}` }} />
          </>
        )}
      </span>
      <span className="text-ink-3">
        <When atMs={lastSeenAtMs} />
      </span>
    </p>
  )
}
