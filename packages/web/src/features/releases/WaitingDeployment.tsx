import type { Deployment } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellResult } from '#shared/lib/tell-refusal'
import { Button, When } from '#shared/ui/parts'
import { useApproveMutation } from './releases.api'
import { TellDeploymentDialog } from './TellDeploymentDialog'

/** A condition of a deployment in words: met, and not. */
const GATE_WORDS: Record<string, readonly [string, string]> = {
  'ran-in-staging': ['ran in staging', 'has not run in staging'],
  approved: ['approved', 'nobody has approved it'],
}

/** A deployment that waits: for its conditions, or for whoever brings it there. */
export function WaitingDeployment({ entry, hasDeployer }: { entry: Deployment; hasDeployer: boolean }) {
  const { may, nameOf } = usePeople()
  const [approve, { isLoading }] = useApproveMutation()
  const [isTelling, setIsTelling] = useState(false)
  const { release, environment } = entry
  const agree = async () => {
    const said = hasDeployer ? `${release} goes to ${environment}` : `${release} may go to ${environment}`
    tellResult(await approve(entry.deploymentId), said)
  }
  return (
    <p className="my-2 flex flex-wrap items-center gap-2 bg-ochre-soft px-2 py-1.5">
      <b>{release}</b> wants to go to {environment}, asked by {nameOf(entry.askedBy)} <When atMs={entry.atMs} />
      {entry.gates.map((gate) => (
        <span key={gate.code} className="flex items-center gap-1.5">
          <span aria-hidden="true" className={`h-[3px] w-[14px] ${gate.isMet ? 'bg-proof' : 'bg-fault'}`} />
          {GATE_WORDS[gate.code]?.[gate.isMet ? 0 : 1] ?? gate.code}
        </span>
      ))}
      {entry.state === 'asked' && may('releases.approve') && (
        <Button look="main" disabled={isLoading} onClick={() => void agree()}>
          Approve {release} for {environment}
        </Button>
      )}
      {entry.state === 'approved' && may('releases.deploy') && (
        <Button look="line" onClick={() => setIsTelling(true)}>
          It runs there…
        </Button>
      )}
      {isTelling && <TellDeploymentDialog place={entry} onClose={() => setIsTelling(false)} />}
    </p>
  )
}
