import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { useApproveMutation, useDeployMutation, useReleasesQuery } from './releases.api'
import { MakeReleaseDialog } from './MakeReleaseDialog'
import { RunLines } from './RunLines'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

/** A condition of a deployment in words: met, and not. */
const GATE_WORDS: Record<string, readonly [string, string]> = {
  'ran-in-staging': ['ran in staging', 'has not run in staging'],
  approved: ['approved', 'nobody has approved it'],
}
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
          . What runs there is told by a deployer, or by <span className="font-mono text-[12px]">dys deployed</span>.
        </p>
      )}
      {data?.services.map((service) => (
        <ServiceBoard key={service.service} service={service} environments={data.environments} />
      ))}
    </Pane>
  )
}

function ServiceBoard({ service, environments }: { service: Service; environments: ReleaseBoard['environments'] }) {
  const people = usePeople()
  const [isMaking, setIsMaking] = useState(false)
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
      {asked.map((entry) => (
        <p key={entry.deploymentId} className="my-2 flex flex-wrap items-center gap-2 bg-ochre-soft px-2 py-1.5">
          <b>{entry.release}</b> wants to go to {entry.environment}, asked by {people.nameOf(entry.askedBy)} <When atMs={entry.atMs} />
          {entry.gates.map((gate) => (
            <span key={gate.code} className="flex items-center gap-1.5">
              <span aria-hidden="true" className={`h-[3px] w-[14px] ${gate.isMet ? 'bg-proof' : 'bg-fault'}`} />
              {GATE_WORDS[gate.code]?.[gate.isMet ? 0 : 1] ?? gate.code}
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
                  {release.runsIn.includes(environment.environment) ? (
                    <b className={release.withdrawn ? 'text-fault' : 'text-proof'}>runs</b>
                  ) : people.may('releases.deploy') && !release.withdrawn ? (
                    <Button
                      look="text"
                      disabled={isDeploying}
                      aria-label={`${
                        environment.needsApproval ? 'Ask to deploy' : 'Deploy'
                      } ${service.service} ${release.release} to ${environment.environment}`}
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
