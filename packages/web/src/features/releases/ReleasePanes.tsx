import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { toast } from 'sonner'
import { useApproveMutation, useDeployMutation, useReleaseQuery, useReleasesQuery } from './releases.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'

type Service = ReleaseBoard['services'][number]

/** Releases of each service, where each runs, and what waits for an approval. */
export function ReleasesPane() {
  const { data, error, isLoading } = useReleasesQuery()
  return (
    <Pane label="Releases" title="Releases">
      <Pending error={error} isLoading={isLoading} />
      {data && data.services.length === 0 && <Quiet>No service is set up. A tag in a connected repository becomes a release here.</Quiet>}
      {data?.services.map((service) => (
        <ServiceBoard key={service.service} service={service} environments={data.environments} />
      ))}
    </Pane>
  )
}

function ServiceBoard({ service, environments }: { service: Service; environments: ReleaseBoard['environments'] }) {
  const people = usePeople()
  const [deploy, { isLoading: isDeploying }] = useDeployMutation()
  const [approve, { isLoading: isApproving }] = useApproveMutation()
  const say = (result: { error?: unknown }, said: string) => (result.error ? toast.error(problemText(result.error)) : toast.success(said))
  const asked = service.deployments.filter((entry) => entry.state === 'asked')
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
      </h3>
      {asked.map((entry) => (
        <p key={entry.deploymentId} className="my-2 flex flex-wrap items-center gap-2 bg-ochre-soft px-2 py-1.5">
          <b>{entry.release}</b> wants to go to {entry.environment}, asked by {people.nameOf(entry.askedBy)} <When atMs={entry.atMs} />
          {entry.gates.map((gate) => (
            <span key={gate.code} className={gate.isMet ? 'text-proof' : 'text-fault'}>
              {gate.isMet ? '✓' : '✗'} {gate.code.replaceAll('-', ' ')}
            </span>
          ))}
          {people.may('releases.approve') && (
            <Button
              look="main"
              disabled={isApproving}
              onClick={() =>
                void approve(entry.deploymentId).then((result) => say(result, `${entry.release} goes to ${entry.environment}`))
              }
            >
              Approve {entry.release} for {entry.environment}
            </Button>
          )}
        </p>
      ))}
      <table className="mt-1 w-full text-left">
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
                  {release.runsIn.includes(environment.environment) ? (
                    <b className="text-proof">runs</b>
                  ) : people.may('releases.deploy') ? (
                    <Button
                      look="text"
                      disabled={isDeploying}
                      aria-label={`${environment.needsApproval ? 'Ask to deploy' : 'Deploy'} ${service.service} ${release.release} to ${environment.environment}`}
                      onClick={() =>
                        void deploy({ service: service.service, release: release.release, environment: environment.environment }).then(
                          (result) =>
                            say(
                              result,
                              environment.needsApproval
                                ? `${release.release} waits for an approval`
                                : `${release.release} goes to ${environment.environment}`,
                            ),
                        )
                      }
                    >
                      {environment.needsApproval ? 'ask' : 'deploy'}
                    </Button>
                  ) : (
                    <span className="text-ink-3">–</span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

export function ReleasePane({ id }: { id: string }) {
  const { data, error, isLoading } = useReleaseQuery(id)
  const trail = usePaneTrail()
  if (!data)
    return (
      <Pane label="Release" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={`Release ${data.release}`}
      title={
        <>
          {data.service} {data.release}
        </>
      }
      aside={
        <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `release:${id}` })}>
          thread
        </Button>
      }
    >
      <div className="px-4 py-3">
        <p>
          Tag <span className="font-mono text-[12px]">{data.tag}</span> at{' '}
          <ThingLink to={{ kind: 'commit', id: `${data.repository}/${data.sha}` }} />, <When atMs={data.atMs} />
        </p>
        <p>{data.runsIn.length > 0 ? `Runs in ${data.runsIn.join(' and ')}` : 'Runs nowhere now'}</p>
      </div>
      <h3 className="border-t border-edge px-4 pt-3 font-bold">{plural(data.items.length, 'item')} first fixed here</h3>
      <ul className="m-0 list-none p-0 pb-3">
        {data.items.map((item) => (
          <li key={item.key} className="flex items-center gap-3 border-b border-edge-soft px-4 py-1.5">
            <ThingLink to={{ kind: 'item', id: item.key }} />
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            <Stair stair={item.stair} hasComeBack={item.hasComeBack} />
          </li>
        ))}
      </ul>
    </Pane>
  )
}
