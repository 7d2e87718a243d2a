import { useForm } from 'react-hook-form'
import { fieldProblem } from '#shared/lib/problem-text'
import { DateInput } from '#shared/ui/DateInput'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'

interface AsideDialogProps {
  title: string
  /** What setting it aside means. */
  note: string
  /** A reason as somebody might give it. */
  example: string
  error: unknown
  isBusy: boolean
  onClose: () => void
  /** Whether it was done; the dialog closes then. */
  onSubmit: (input: { until: string; why: string }) => Promise<boolean>
}

/** Until when something does not count, and why. */
export function AsideDialog({ title, note, example, error, isBusy, onClose, onSubmit }: AsideDialogProps) {
  const { register, handleSubmit, watch, setValue } = useForm({ defaultValues: { until: '', why: '' } })
  const submit = handleSubmit(async (input) => {
    if (await onSubmit(input)) onClose()
  })
  const wrong = (field: 'until' | 'why') => fieldProblem(error, field)
  return (
    <Dialog title={title} isOpen onClose={onClose}>
      <form aria-label={title} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="m-0 text-ink-2">{note}</p>
        <Field label="Until" error={wrong('until')}>
          <DateInput label="Until" value={watch('until')} onDone={(day) => setValue('until', day)} />
        </Field>
        <Field label="Why it does not count" error={wrong('why')}>
          <TextInput autoFocus maxLength={500} placeholder={example} {...register('why')} />
        </Field>
        {!wrong('until') && !wrong('why') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isBusy || watch('until') === '' || watch('why').trim() === ''}>
          Set it aside
        </Button>
      </form>
    </Dialog>
  )
}
