import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellResult } from '#shared/lib/tell-refusal'
import { Button } from '#shared/ui/parts'
import { useDeployMutation, useTakeDeploymentBackMutation } from './releases.api'
import { TellDeploymentDialog } from './TellDeploymentDialog'

type Release = ReleaseBoard['services'][number]['releases'][number]

interface Props {
  release: Release
  environment: ReleaseBoard['environments'][number]
  hasDeployer: boolean
  /** The deployment by which it runs there, where somebody said so. */
  told: string | null
}

/** Whether a release runs in a place, and how it gets there: by the deployer, or by somebody who says that it runs. */
export function PlaceCell({ release, environment: place, hasDeployer, told }: Props) {
  const { may } = usePeople()
  const { environment, needsApproval } = place
  if (release.runsIn.includes(environment))
    return (
      <span className="flex gap-2">
        <b className={release.withdrawn ? 'text-fault' : 'text-proof'}>runs</b>
        {told !== null && may('releases.deploy') && <TakeBack release={release} environment={environment} deploymentId={told} />}
      </span>
    )
  if (!may('releases.deploy') || release.withdrawn) return <span className="text-ink-3">–</span>
  return (
    <span className="flex gap-2">
      {(hasDeployer || needsApproval) && <Ask release={release} place={place} />}
      {!hasDeployer && <Tell release={release} environment={environment} />}
    </span>
  )
}

function Ask({
  release: { service, release },
  place: { environment, needsApproval },
}: Pick<Props, 'release'> & { place: Props['environment'] }) {
  const [deploy, { isLoading }] = useDeployMutation()
  const ask = async () =>
    tellResult(
      await deploy({ service, release, environment }),
      needsApproval ? `${release} waits for an approval` : `${release} goes to ${environment}`,
    )
  return (
    <Button
      look="text"
      disabled={isLoading}
      aria-label={`${needsApproval ? 'Ask to deploy' : 'Deploy'} ${service} ${release} to ${environment}`}
      onClick={() => void ask()}
    >
      {needsApproval ? 'ask' : 'deploy'}
    </Button>
  )
}

function TakeBack({ release, environment, deploymentId }: { release: Release; environment: string; deploymentId: string }) {
  const [takeBack, { isLoading }] = useTakeDeploymentBackMutation()
  return (
    <Button
      look="text"
      disabled={isLoading}
      aria-label={`Take back that ${release.service} ${release.release} runs in ${environment}`}
      onClick={async () => tellResult(await takeBack(deploymentId), `${release.release} is said to run in ${environment} no more`)}
    >
      take back
    </Button>
  )
}

function Tell({ release: { service, release }, environment }: { release: Release; environment: string }) {
  const [isTelling, setIsTelling] = useState(false)
  return (
    <>
      <Button look="text" aria-label={`Say it runs: ${service} ${release} in ${environment}`} onClick={() => setIsTelling(true)}>
        say it runs…
      </Button>
      {isTelling && <TellDeploymentDialog place={{ service, release, environment }} onClose={() => setIsTelling(false)} />}
    </>
  )
}
