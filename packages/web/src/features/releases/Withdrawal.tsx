import type { Release } from '@dystracer/core/releases/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { fieldProblem } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, When } from '#shared/ui/parts'
import { useWithdrawReleaseMutation } from './releases.api'

/** That a release is withdrawn, and why; or the way to withdraw it. */
export function Withdrawal({ release: { service, release: name, withdrawn, runsIn } }: { release: Release }) {
  const { may } = usePeople()
  const [isAsking, setIsAsking] = useState(false)
  const [withdraw] = useWithdrawReleaseMutation()
  const release = `${service}@${name}`
  if (withdrawn)
    return (
      <p className="mt-2 bg-ochre-soft px-2 py-1.5">
        <b>Withdrawn</b> by {withdrawn.by} <When atMs={withdrawn.atMs} />: {withdrawn.why}
        {runsIn.length > 0 && <b className="text-fault"> It still runs in {runsIn.join(' and ')}.</b>}{' '}
        {may('releases.make') && (
          <Button look="line" onClick={() => void withdraw({ release, isWithdrawn: false }).then(tellRefusal)}>
            let it stand again
          </Button>
        )}
      </p>
    )
  if (!may('releases.make')) return null
  return isAsking ? (
    <WithdrawForm release={release} onDone={() => setIsAsking(false)} />
  ) : (
    <p className="mt-1">
      <Button look="line" onClick={() => setIsAsking(true)}>
        withdraw it…
      </Button>
    </p>
  )
}

function WithdrawForm({ release, onDone }: { release: string; onDone: () => void }) {
  const { register, handleSubmit } = useForm({ defaultValues: { why: '' } })
  const [withdraw, { error, isLoading }] = useWithdrawReleaseMutation()
  const submit = handleSubmit(async ({ why }) => {
    const result = await withdraw({ release, isWithdrawn: true, why })
    if (!result.error) onDone()
  })
  const wrong = fieldProblem(error, 'why')
  return (
    <form aria-label="Withdraw it" className="mt-2 space-y-2" onSubmit={(event) => void submit(event)}>
      <p className="text-ink-2">It is brought nowhere any more, and its published notes say so. What runs goes on running.</p>
      <Field label="Why, for whoever runs it" error={wrong}>
        <TextInput maxLength={1000} autoFocus {...register('why')} />
      </Field>
      {!wrong && <Refusal error={error} />}
      <p className="flex gap-2">
        <Button look="main" type="submit" disabled={isLoading}>
          Withdraw
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </form>
  )
}
