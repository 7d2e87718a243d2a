import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { Button, Drift, When } from '#shared/ui/parts'
import { TellDeploymentDialog } from './TellDeploymentDialog'

type Service = ReleaseBoard['services'][number]

/** Where programs say that they are another release than the one that was told to run there. */
export function PlaceDrift({ service }: { service: Service }) {
  return service.drift.map((row) => <Line key={`${row.environment} ${row.release}`} service={service} row={row} />)
}

function Line({ service, row }: { service: Service; row: Service['drift'][number] }) {
  const { may } = usePeople()
  const [isTelling, setIsTelling] = useState(false)
  const { environment, release, told, isPartly, lastAtMs } = row
  const isKnown = service.releases.some((known) => known.release === release)
  return (
    <p className="my-1 flex flex-wrap items-center gap-2">
      <Drift />
      <span>
        Programs in {environment} say that they are <b>{release}</b> (last heard <When atMs={lastAtMs} />
        );{' '}
        {told === null
          ? 'nobody told of a deployment there.'
          : isPartly
            ? `${told} was brought there and is heard, too.`
            : `${told} was brought there.`}
      </span>
      {isKnown && may('releases.deploy') && (
        <Button look="line" onClick={() => setIsTelling(true)}>
          {release} runs there…
        </Button>
      )}
      {isTelling && <TellDeploymentDialog place={{ service: service.service, release, environment }} onClose={() => setIsTelling(false)} />}
    </p>
  )
}
