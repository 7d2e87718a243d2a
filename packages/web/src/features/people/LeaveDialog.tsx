import type { Person } from '@dystracer/core/people/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useLeaveProjectMutation } from './people.api'
import { usePeople } from './use-people'

/** Somebody leaves: who takes over what is theirs, and whether they are gone for good. */
export function LeaveDialog({ person, onClose }: { person: Person; onClose: () => void }) {
  const { me, may } = usePeople()
  const [leave, { error, isLoading }] = useLeaveProjectMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { handOverTo: '', closesAccount: false } })
  const project = me?.project
  const heirs = (me?.people ?? []).filter((other) => other.role !== null && other.role !== 'reader' && other.personId !== person.personId)
  const submit = handleSubmit(async ({ handOverTo, closesAccount }) => {
    const result = await leave({
      project: project?.prefix ?? '',
      personId: person.personId,
      handOverTo: handOverTo === '' ? null : handOverTo,
      closesAccount,
    })
    if (result.error) return
    const { items, components, weeks } = result.data
    const moved = [
      items > 0 && plural(items, 'item'),
      components > 0 && plural(components, 'component'),
      weeks > 0 && `${plural(weeks, 'week')} of duty`,
    ].filter(Boolean)
    toast.success(`${person.name} is out${moved.length > 0 ? `; handed over: ${moved.join(', ')}` : ''}`)
    onClose()
  })
  const wrong = fieldProblem(error, 'handOverTo')
  return (
    <Dialog title={`${person.name} leaves ${project?.name ?? ''}`} isOpen onClose={onClose}>
      <form aria-label={`${person.name} leaves`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Open items, components and duty go to" error={wrong}>
          <Choose
            {...register('handOverTo')}
            none="nobody for now"
            choices={heirs.map(({ personId, name }) => ({ value: personId, label: name }))}
          />
        </Field>
        {may('people.make-admin') && (
          <label className="flex items-baseline gap-2">
            <input type="checkbox" {...register('closesAccount')} />
            <span>
              Close the account
              <span className="block text-[12px] text-ink-2">
                Out of every project; password, sessions and own tokens end. An invitation opens it again.
              </span>
            </span>
          </label>
        )}
        <p className="text-[12px] text-ink-2">What they did stays under their name.</p>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Take {person.name} out
        </Button>
      </form>
    </Dialog>
  )
}
