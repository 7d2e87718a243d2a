import { usePeople } from '#features/people/index'
import { tellResult } from '#shared/lib/tell-refusal'
import { Button } from '#shared/ui/parts'
import { useWantBuildMutation, useWantedBuilds } from './build-machines.api'
import { StopButton } from './WantedBuilds'
import { isAskedFor, stateWords } from './wanted-words'

/** Whether a build is wanted again or runs on a machine, and repeating or stopping it. */
export function WantedOfBuild({ repository, number, isRunning }: { repository: string; number: number; isRunning: boolean }) {
  const { may } = usePeople()
  const { data } = useWantedBuilds({ repository })
  const [want, { isLoading }] = useWantBuildMutation()
  const row = data?.rows.find((one) => one.number === number && one.state !== 'ended')
  if (row)
    return (
      <p className="flex gap-3">
        <span>
          {row.isAgain ? 'It is built again: ' : 'It '}
          {stateWords(row, isAskedFor(repository, data?.machines ?? []))}.
        </span>
        <StopButton row={row} />
      </p>
    )
  if (isRunning || !may('code.contribute')) return null
  const again = async () => tellResult(await want({ repository, again: number }), 'It will be built again')
  return (
    <p>
      <Button look="line" disabled={isLoading} onClick={() => void again()}>
        Build it again
      </Button>
    </p>
  )
}
