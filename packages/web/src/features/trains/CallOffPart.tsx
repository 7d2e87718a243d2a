import type { TrainDetail } from '@dystracer/core/trains/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { TextInput } from '#shared/ui/fields'
import { Button, When } from '#shared/ui/parts'
import { useCallTrainOffMutation } from './trains.api'

/** That a train was called off, or the way to call it off; one that was can go after all. */
export function CallOffPart({ data }: { data: TrainDetail }) {
  const { may, nameOf } = usePeople()
  const [callOff, { isLoading }] = useCallTrainOffMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { words: '' } })
  const of = { project: data.project, trainId: data.trainId }
  if (data.calledOff !== null)
    return (
      <p className="border-t border-edge px-4 py-3">
        <b>Called off</b> by {nameOf(data.calledOff.by)} <When atMs={data.calledOff.atMs} />
        {data.calledOff.words !== '' && `: ${data.calledOff.words}`}.{' '}
        {may('releases.make') && (
          <Button look="line" disabled={isLoading} onClick={() => void callOff({ ...of, isCalledOff: false }).then(tellRefusal)}>
            let it go after all
          </Button>
        )}
      </p>
    )
  if (!may('releases.make') || data.standing === 'there') return null
  return (
    <form
      aria-label="Call it off"
      className="flex items-end gap-3 border-t border-edge px-4 py-3"
      onSubmit={(event) => void handleSubmit(({ words }) => callOff({ ...of, isCalledOff: true, words }).then(tellRefusal))(event)}
    >
      <span className="min-w-0 flex-1">
        <TextInput aria-label="Why it does not go" placeholder="why it does not go" maxLength={1000} {...register('words')} />
      </span>
      <Button type="submit" disabled={isLoading}>
        Call it off
      </Button>
    </form>
  )
}
