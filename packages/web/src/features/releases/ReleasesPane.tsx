import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { isToldDeployment } from '@dystracer/core/releases/told-deployment'
import { useState } from 'react'
import { useReleasesQuery } from './releases.api'
import { MakeReleaseDialog } from './MakeReleaseDialog'
import { PlaceCell } from './PlaceCell'
import { PlaceDrift } from './PlaceDrift'
import { RunLines } from './RunLines'
import { WaitingDeployment } from './WaitingDeployment'
import { usePeople } from '#features/people/index'
import { Trains } from '#features/trains/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

type Service = ReleaseBoard['services'][number]

/** Releases of each service, where each runs, and what waits for an approval. */
export function ReleasesPane() {
  const { data, error, isLoading } = useReleasesQuery()
  const trail = usePaneTrail()
  return (
    <Pane
      label="Releases"
      title="Releases"
      aside={
        <Button look="text" onClick={() => trail.open({ kind: 'package', id: '' })}>
          which contain…
        </Button>
      }
    >
      <Pending error={error} isLoading={isLoading} />
      {data && data.services.length === 0 && <Quiet>No service is set up. A tag in a connected repository becomes a release here.</Quiet>}
      {data && data.services.length > 0 && data.environments.length === 0 && (
        <p className="px-4 pt-3 text-ink-2">
          No environment is set up, so nothing is known to run anywhere:{' '}
          <Button look="line" onClick={() => trail.open({ kind: 'settings', id: 'environments' })}>
            set up where releases run
          </Button>
          . What runs there is told by a deployer, by <span className="font-mono text-[12px]">dys deployed</span>, or by you.
        </p>
      )}
      {data && data.services.length > 0 && <Trains />}
      {data?.services.map((service) => (
        <ServiceBoard key={service.service} service={service} board={data} />
      ))}
    </Pane>
  )
}

function ServiceBoard({ service, board: { environments, hasDeployer } }: { service: Service; board: ReleaseBoard }) {
  const people = usePeople()
  const [isMaking, setIsMaking] = useState(false)
  const toldIn = (environment: string) =>
    service.deployments.find(
      (entry) => entry.environment === environment && entry.state === 'running' && (isToldDeployment(entry.deploymentId) || !hasDeployer),
    )?.deploymentId ?? null
  // Without a deployer what was approved waits for whoever brings it there.
  const waiting = service.deployments.filter((entry) => entry.state === 'asked' || (entry.state === 'approved' && !hasDeployer))
  return (
    <div className="border-b border-edge px-4 py-3">
      <h3 className="font-bold">
        {service.service}{' '}
        <span className="font-normal text-ink-3">
          {service.lastHeardAtMs ? (
            <>
              last heard <When atMs={service.lastHeardAtMs} />
            </>
          ) : (
            'not heard yet'
          )}
        </span>
        {people.may('releases.make') && (
          <Button
            look="line"
            className="ml-3 font-normal"
            aria-label={`New release of ${service.service}`}
            onClick={() => setIsMaking(true)}
          >
            new release…
          </Button>
        )}
      </h3>
      {isMaking && <MakeReleaseDialog service={service.service} onClose={() => setIsMaking(false)} />}
      {waiting.map((entry) => (
        <WaitingDeployment key={entry.deploymentId} entry={entry} hasDeployer={hasDeployer} />
      ))}
      <PlaceDrift service={service} />
      <RunLines service={service} environments={environments} />
      <table className="mt-2 w-full text-left">
        <thead className="text-[12px] text-ink-3">
          <tr>
            <th className="font-normal">release</th>
            <th className="font-normal">since</th>
            <th className="font-normal">fixes</th>
            {environments.map((environment) => (
              <th key={environment.environment} className="font-normal">
                {environment.environment}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {service.releases.map((release) => (
            <tr key={release.release} className="border-t border-edge-soft">
              <td className="py-1">
                <ThingLink to={{ kind: 'release', id: `${service.service}@${release.release}` }}>{release.release}</ThingLink>
                {release.withdrawn && (
                  <span className="ml-1 text-ochre" title={release.withdrawn.why}>
                    withdrawn
                  </span>
                )}
                {release.isRewritten && (
                  <span className="ml-1 text-ochre" title="the tag was moved">
                    rewritten
                  </span>
                )}
              </td>
              <td>
                <When atMs={release.atMs} />
              </td>
              <td>{release.fixes}</td>
              {environments.map((environment) => (
                <td key={environment.environment}>
                  <PlaceCell release={release} environment={environment} hasDeployer={hasDeployer} told={toldIn(environment.environment)} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
