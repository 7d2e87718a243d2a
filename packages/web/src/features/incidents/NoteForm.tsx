import { useForm } from 'react-hook-form'
import { fieldProblem } from '#shared/lib/problem-text'
import { TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useNoteIncidentMutation } from './incidents.api'
import { fromLocalTime, toLocalTime } from '#shared/lib/instants'

/** What is noted may have happened so long before the incident was seen. */
const EARLIER_MS = 7 * 86_400_000

/** What was seen or done, noted as it happened or afterwards. */
export function NoteForm({ of, startedAtMs }: { of: { project: string; number: string }; startedAtMs: number }) {
  const [note, { error, isLoading }] = useNoteIncidentMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { text: '', happenedAt: '' } })
  const submit = handleSubmit(async ({ text, happenedAt }) => {
    const happenedAtMs = fromLocalTime(happenedAt)
    const result = await note({ ...of, text, ...(happenedAtMs !== null && { happenedAtMs }) })
    if (!result.error) reset()
  })
  return (
    <form aria-label="Note" className="flex flex-wrap items-center gap-2" onSubmit={(event) => void submit(event)}>
      <TextInput
        aria-label="What was seen or done"
        placeholder="what was seen or done"
        maxLength={5000}
        className="w-auto! min-w-[180px] flex-1"
        {...register('text', { required: true })}
      />
      <span className="text-[12px] text-ink-2">at</span>
      <TextInput
        type="datetime-local"
        aria-label="When; left empty, now"
        min={toLocalTime(startedAtMs - EARLIER_MS)}
        className="w-[190px]!"
        {...register('happenedAt')}
      />
      <Button look="line" type="submit" disabled={isLoading}>
        Note it
      </Button>
      <Refusal error={fieldProblem(error, 'text') ? undefined : error} />
      {fieldProblem(error, 'text') && (
        <span role="alert" className="text-fault">
          {fieldProblem(error, 'text')}
        </span>
      )}
    </form>
  )
}
