import { suggestPrefix } from '@dystracer/core/projects/suggest-prefix'
import { useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { useCreateProjectMutation } from './projects.api'
import { fieldProblem } from '#shared/lib/problem-text'
import { printTrail } from '#shared/lib/trail'
import { workIn } from '#shared/lib/current-project'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Refusal } from '#shared/ui/parts'

interface Draft {
  name: string
  prefix: string
  component: string
  firstItem: string
  repositoryUrl: string
}
const EMPTY: Draft = { name: '', prefix: '', component: '', firstItem: '', repositoryUrl: '' }

/** A project from nothing on one page: only its name is needed; what else is there already can be named at once. */
export function NewProjectPane() {
  const { may } = usePeople()
  const dispatch = useAppDispatch()
  const navigate = useNavigate()
  const [create, { error, isLoading }] = useCreateProjectMutation()
  const { register, handleSubmit, watch } = useForm<Draft>({ defaultValues: EMPTY })
  const suggested = suggestPrefix(watch('name'))
  const submit = handleSubmit(async (draft) => {
    const result = await create({
      name: draft.name,
      prefix: draft.prefix.trim() || suggested,
      component: draft.component.trim() || null,
      firstItem: draft.firstItem.trim() || null,
      repositoryUrl: draft.repositoryUrl.trim() || null,
    })
    if (result.error) return
    const { prefix, firstItem, repository } = result.data
    workIn(prefix, dispatch)
    toast.success(`${draft.name} is there${repository ? `; the history of ${repository} is being read` : ''}`)
    void navigate(printTrail([{ kind: 'items', id: `open project=${prefix}` }, ...(firstItem ? [{ kind: 'item', id: firstItem }] : [])]))
  })
  const wrong = (field: keyof Draft) => fieldProblem(error, field)
  return (
    <Pane label="New project" title="New project">
      {may('projects.make') ? (
        <form aria-label="New project" onSubmit={(event) => void submit(event)} className="max-w-[520px] space-y-3 px-4 py-3">
          <Field label="Name" error={wrong('name')}>
            <TextInput autoFocus maxLength={60} placeholder="Web shop" {...register('name', { required: true })} />
          </Field>
          <Field label={`Prefix of its keys${suggested ? `, such as ${suggested}-1` : ''}`} error={wrong('prefix')}>
            <TextInput maxLength={10} placeholder={suggested || 'KS'} className="w-[120px]! font-mono uppercase" {...register('prefix')} />
          </Field>
          <p className="pt-2 text-[12px] text-ink-2">The rest can wait. Name what you have:</p>
          <Field label="First component: a part of the software that somebody looks after" error={wrong('component')}>
            <TextInput maxLength={100} placeholder="Booking page" {...register('component')} />
          </Field>
          <Field label="First item: what is to be done first" error={wrong('firstItem')}>
            <TextInput maxLength={200} placeholder="Show what is in stock" {...register('firstItem')} />
          </Field>
          <Field label="First repository: its address; its history is read right away" error={wrong('repositoryUrl')}>
            <TextInput maxLength={500} inputMode="url" placeholder="https://code.example/web-shop.git" {...register('repositoryUrl')} />
          </Field>
          <Refusal error={error} />
          <Button look="main" type="submit" disabled={isLoading}>
            Begin
          </Button>
        </form>
      ) : (
        <p className="px-4 py-3 text-ochre">A lead makes projects.</p>
      )}
    </Pane>
  )
}
