import type { Deployment } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { PassOver } from '#features/places/index'
import { useCheckDeploymentMutation, useTakeAgreementBackMutation } from '#features/places/places.api'
import { tellRefusal, tellResult } from '#shared/lib/tell-refusal'
import { Button, When } from '#shared/ui/parts'
import { useApproveMutation } from './releases.api'
import { TellDeploymentDialog } from './TellDeploymentDialog'

/** A deployment that waits: for its conditions, or for whoever brings it there. */
export function WaitingDeployment({ entry, hasDeployer }: { entry: Deployment; hasDeployer: boolean }) {
  const { me, may, nameOf } = usePeople()
  const [takeBack, takingBack] = useTakeAgreementBackMutation()
  const isAgreed = entry.agreedBy.some((personId) => personId === me?.person?.personId)
  const [approve, { isLoading }] = useApproveMutation()
  const [isTelling, setIsTelling] = useState(false)
  const { release, environment } = entry
  const unmet = entry.gates.filter((gate) => !gate.isMet && gate.code !== 'approved').map(({ words }) => words)
  const agree = async () => {
    const asksMore = entry.gates.some((gate) => gate.code === 'agreed' && !gate.isMet)
    if (asksMore) return tellResult(await approve(entry.deploymentId), `You agreed that ${release} goes to ${environment}`)
    const said = hasDeployer ? `${release} goes to ${environment}` : `${release} may go to ${environment}`
    tellResult(await approve(entry.deploymentId), said)
  }
  return (
    <p className="my-2 flex flex-wrap items-center gap-2 bg-ochre-soft px-2 py-1.5">
      <b>{release}</b> wants to go to {environment}, asked by {nameOf(entry.askedBy)} <When atMs={entry.atMs} />
      {entry.gates.map((gate) => (
        <GateOfDeployment key={`${gate.code} ${gate.words}`} entry={entry} gate={gate} />
      ))}
      {entry.passedOver && (
        <span className="text-ochre">
          let out by {nameOf(entry.passedOver.by)} past “{entry.passedOver.unmet.join('”, “')}”: {entry.passedOver.why}
        </span>
      )}
      {entry.state === 'asked' && isAgreed && (
        <Button look="line" disabled={takingBack.isLoading} onClick={() => void takeBack(entry.deploymentId).then(tellRefusal)}>
          take back that I agreed
        </Button>
      )}
      {entry.state === 'asked' && !isAgreed && may('releases.approve') && (
        <Button look="main" disabled={isLoading} onClick={() => void agree()}>
          Approve {release} for {environment}
        </Button>
      )}
      {entry.state === 'asked' && unmet.length > 0 && may('gates.pass-over') && (
        <PassOver deploymentId={entry.deploymentId} what={`${release} to ${environment}`} unmet={unmet} />
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

/** A condition with whether it holds; a check by hand is ticked by who may deploy. */
function GateOfDeployment({ entry, gate: { code, isMet, words } }: { entry: Deployment; gate: Deployment['gates'][number] }) {
  const { may } = usePeople()
  const [check, { isLoading }] = useCheckDeploymentMutation()
  if (code === 'check' && entry.state === 'asked' && may('releases.deploy'))
    return (
      <label className="flex min-h-6 items-center gap-1.5">
        <input
          type="checkbox"
          checked={isMet}
          disabled={isLoading}
          onChange={({ target }) => void check({ id: entry.deploymentId, words, isOn: target.checked }).then(tellRefusal)}
        />
        {words}
      </label>
    )
  return (
    <span className="flex items-center gap-1.5">
      <span aria-hidden="true" className={`h-[3px] w-[14px] ${isMet ? 'bg-proof' : 'bg-fault'}`} />
      {words}
    </span>
  )
}
