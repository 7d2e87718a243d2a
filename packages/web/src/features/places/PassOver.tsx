import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { usePassOverGatesMutation } from './places.api'

/** The way past gates that do not hold, for who may: it needs a reason, which stays. */
export function PassOver({ deploymentId, what, unmet }: { deploymentId: string; what: string; unmet: readonly string[] }) {
  const [isOpen, setIsOpen] = useState(false)
  return (
    <>
      <Button look="line" onClick={() => setIsOpen(true)}>
        let it out all the same…
      </Button>
      {isOpen && <PassOverDialog deploymentId={deploymentId} what={what} unmet={unmet} onClose={() => setIsOpen(false)} />}
    </>
  )
}

function PassOverDialog({
  deploymentId,
  what,
  unmet,
  onClose,
}: {
  deploymentId: string
  what: string
  unmet: readonly string[]
  onClose: () => void
}) {
  const [pass, { error, isLoading }] = usePassOverGatesMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { why: '' } })
  const submit = handleSubmit(async ({ why }) => {
    const result = await pass({ id: deploymentId, why })
    if (result.error) return
    toast.success(`On its way: ${what}`)
    onClose()
  })
  const wrong = fieldProblem(error, 'why')
  return (
    <Dialog title={`Bring ${what} all the same`} isOpen onClose={onClose}>
      <form aria-label="Let it out" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p>What does not hold:</p>
        <ul className="m-0 list-none p-0">
          {unmet.map((words) => (
            <li key={words} className="text-fault">
              {words}
            </li>
          ))}
        </ul>
        <Field label="Why it goes out all the same; this stays in its history" error={wrong} isNeeded>
          <TextArea autoFocus rows={3} maxLength={1000} {...register('why', { required: true })} />
        </Field>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Let it out
        </Button>
      </form>
    </Dialog>
  )
}
