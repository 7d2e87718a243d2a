import type { Requirement } from '@dystracer/core/requirements/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useBeginRequirementMutation } from './requirements.api'

interface Draft {
  kind: 'requirement' | 'heading'
  title: string
  text: string
  parent: string
  prefix: string
}

/** Begins a requirement, or a heading that gathers some, in the project that one works in; then it stands open beside the list. */
export function BeginRequirementDialog({ rows, onClose }: { rows: readonly Requirement[]; onClose: () => void }) {
  const { me } = usePeople()
  const trail = usePaneTrail()
  const [begin, { error, isLoading }] = useBeginRequirementMutation()
  const project = me?.project.prefix ?? ''
  const usual = rows.at(-1)?.key.split('-')[0] ?? `${project.slice(0, 9)}R`
  const { register, handleSubmit, watch } = useForm<Draft>({
    defaultValues: { kind: 'requirement', title: '', text: '', parent: '', prefix: usual },
  })
  const submit = handleSubmit(async ({ kind, parent, ...draft }) => {
    const result = await begin({ project, ...draft, parent: parent || null, isHeading: kind === 'heading' })
    if (result.error) return
    onClose()
    trail.open({ kind: 'requirement', id: result.data.key })
  })
  const wrong = (field: keyof Draft) => fieldProblem(error, field)
  const isFieldWrong = (['title', 'text', 'parent', 'prefix'] as const).some((field) => wrong(field))
  return (
    <Dialog title="Begin a requirement" isOpen onClose={onClose}>
      <form aria-label="Begin a requirement" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Title" error={wrong('title')}>
          <TextInput autoFocus maxLength={200} placeholder="The door opens within two seconds" {...register('title', { required: true })} />
        </Field>
        {watch('kind') === 'requirement' && (
          <Field label="What is asked for, in a sentence that can be tested" error={wrong('text')}>
            <TextArea rows={4} maxLength={20_000} className="font-serif text-[15px]" {...register('text')} />
          </Field>
        )}
        <div className="grid grid-cols-3 gap-3">
          <Field label="Kind">
            <Choose
              {...register('kind')}
              choices={[
                { value: 'requirement', label: 'a requirement' },
                { value: 'heading', label: 'a heading' },
              ]}
            />
          </Field>
          <Field label="Below" error={wrong('parent')}>
            <Choose
              {...register('parent')}
              choices={[{ value: '', label: 'nothing' }, ...rows.map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))]}
            />
          </Field>
          <Field label={`Prefix of its key, such as ${usual}-1`} error={wrong('prefix')}>
            <TextInput maxLength={10} className="font-mono uppercase" {...register('prefix', { required: true })} />
          </Field>
        </div>
        {!isFieldWrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Begin
        </Button>
      </form>
    </Dialog>
  )
}
