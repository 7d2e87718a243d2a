import { useForm } from 'react-hook-form'
import { fromLocalTime, toLocalTime } from '#shared/lib/instants'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useTellDeploymentMutation } from './releases.api'

interface Place {
  service: string
  release: string
  environment: string
}

/** Says that a release runs somewhere, and since when: for teams that bring it there themselves. */
export function TellDeploymentDialog({ place, onClose }: { place: Place; onClose: () => void }) {
  const { service, release, environment } = place
  const [tell, { error, isLoading }] = useTellDeploymentMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { since: toLocalTime(Date.now()) } })
  const submit = handleSubmit(async ({ since }) => {
    const atMs = fromLocalTime(since)
    const result = await tell({ service, release, environment, ...(atMs !== null && { atMs }) })
    if (!result.error) onClose()
  })
  const title = `${service} ${release} runs in ${environment}`
  return (
    <Dialog title={title} isOpen onClose={onClose}>
      <form aria-label={title} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="m-0 text-ink-2">The items whose fixes it holds are released there from then on.</p>
        <Field label="Since" error={fieldProblem(error, 'atMs')}>
          <TextInput type="datetime-local" autoFocus {...register('since', { required: true })} />
        </Field>
        <Refusal error={fieldProblem(error, 'atMs') ? undefined : error} />
        <Button look="main" type="submit" disabled={isLoading}>
          It runs there
        </Button>
      </form>
    </Dialog>
  )
}
