import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import {
  usePlaceRequirementMutation,
  useRequirementsQuery,
  useRestoreRequirementMutation,
  useRetireRequirementMutation,
} from './requirements.api'

/** What can be done with a requirement as a whole: put elsewhere in its document, retired, and let hold again. */
export function RequirementDeeds({ data }: { data: RequirementDetail }) {
  const [open, setOpen] = useState<'place' | 'retire' | null>(null)
  const [restore] = useRestoreRequirementMutation()
  return (
    <div className="flex gap-4">
      <Button look="text" onClick={() => setOpen('place')}>
        Move…
      </Button>
      {data.isRetired ? (
        <Button
          look="text"
          onClick={() =>
            void restore(data.key).then((result) =>
              result.error ? toast.error(problemText(result.error)) : toast.success(`${data.key} holds again`),
            )
          }
        >
          Let it hold again
        </Button>
      ) : (
        <Button look="text" onClick={() => setOpen('retire')}>
          Retire…
        </Button>
      )}
      {open === 'place' && <PlaceDialog data={data} onClose={() => setOpen(null)} />}
      {open === 'retire' && <RetireDialog data={data} onClose={() => setOpen(null)} />}
    </div>
  )
}

function PlaceDialog({ data, onClose }: { data: RequirementDetail; onClose: () => void }) {
  const { data: all } = useRequirementsQuery()
  const [place, { error, isLoading }] = usePlaceRequirementMutation()
  const { register, handleSubmit, watch } = useForm({ defaultValues: { parent: data.parent ?? '', before: '' } })
  const parent = watch('parent')
  const rows = (all?.rows ?? []).filter((row) => row.key !== data.key)
  const labelOf = (row: { key: string; title: string }) => ({ value: row.key, label: `${row.key} ${row.title}` })
  const submit = handleSubmit(async (input) => {
    const result = await place({ key: data.key, parent: input.parent || null, before: input.before || null })
    if (result.error) return
    toast.success(`${data.key} is moved`)
    onClose()
  })
  const isFieldWrong = fieldProblem(error, 'parent') ?? fieldProblem(error, 'before')
  return (
    <Dialog title={`Move ${data.key}`} isOpen onClose={onClose}>
      <form aria-label={`Move ${data.key}`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">What stands below it goes along.</p>
        <Field label="Below" error={fieldProblem(error, 'parent')}>
          <Choose {...register('parent')} none="nothing: at the top" choices={rows.map(labelOf)} />
        </Field>
        <Field label="Before" error={fieldProblem(error, 'before')}>
          <Choose
            {...register('before')}
            none="nothing: at the end"
            choices={rows.filter((row) => (row.parent ?? '') === parent).map(labelOf)}
          />
        </Field>
        {!isFieldWrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Move it
        </Button>
      </form>
    </Dialog>
  )
}

function RetireDialog({ data, onClose }: { data: RequirementDetail; onClose: () => void }) {
  const [retire, { error, isLoading }] = useRetireRequirementMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { words: '' } })
  const submit = handleSubmit(async ({ words }) => {
    const result = await retire({ key: data.key, words })
    if (result.error) return
    toast.success(`${data.key} is retired`)
    onClose()
  })
  const wrong = fieldProblem(error, 'words')
  return (
    <Dialog title={`Retire ${data.key}`} isOpen onClose={onClose}>
      <form aria-label={`Retire ${data.key}`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">It keeps its key and its past, and what was done for it stays; nothing new is asked of it.</p>
        <Field label="Why it holds no more" error={wrong}>
          <TextArea autoFocus rows={3} maxLength={2000} {...register('words', { required: true })} />
        </Field>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Retire it
        </Button>
      </form>
    </Dialog>
  )
}
