import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { usePeople } from '#features/people/index'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import { useHooksQuery, useSetHookMutation } from './incoming.api'

/** The ways in for programs that send plain JSON in shapes of their own; each opens to how its messages are read. */
export function Hooks() {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const project = me?.project.prefix ?? ''
  const canSee = may('webhooks.set-up')
  const { data, error, isLoading } = useHooksQuery(project, { skip: project === '' || !canSee })
  const [isNew, setIsNew] = useState(false)
  if (!canSee) return null
  return (
    <section aria-label="Hooks">
      <SectionHead>Hooks: programs that send a shape of their own</SectionHead>
      <p className="text-ink-2">
        A code host or build service that knows nothing of CDEvents sends plain JSON to an address of its own. What it sends is kept; you
        then show, by what has come, where the repository, the build or the release stands in it.
      </p>
      <Pending error={error} isLoading={isLoading} />
      <ul className="m-0 list-none p-0">
        {data?.rows.map((hook) => (
          <li key={hook.hookId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
            <span className="min-w-0 flex-1">
              <Button look="line" onClick={() => trail.open({ kind: 'hook', id: hook.hookId })}>
                {hook.name}
              </Button>{' '}
              <span className="text-[12px] text-ink-2">
                {plural(hook.readings.length, 'reading')} ·{' '}
                {hook.lastAtMs === null ? (
                  'nothing has come yet'
                ) : (
                  <>
                    last <When atMs={hook.lastAtMs} />
                  </>
                )}
              </span>
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-2">
        <Button onClick={() => setIsNew(true)}>A hook for a program…</Button>
      </p>
      {isNew && <NewHookDialog project={project} onClose={() => setIsNew(false)} />}
    </section>
  )
}

/** A name that an address can hold, from one that people use. */
const addressFrom = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40)

function NewHookDialog({ project, onClose }: { project: string; onClose: () => void }) {
  const trail = usePaneTrail()
  const [setHook, { error, isLoading }] = useSetHookMutation()
  const { register, handleSubmit, watch } = useForm({ defaultValues: { name: '' } })
  const hookId = addressFrom(watch('name'))
  const submit = handleSubmit(async ({ name }) => {
    const result = await setHook({ project, hookId, name })
    if (result.error) return
    onClose()
    trail.open({ kind: 'hook', id: hookId })
  })
  return (
    <Dialog title="A hook for a program" isOpen onClose={onClose}>
      <form aria-label="A hook for a program" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="What the program is called" error={fieldProblem(error, 'name')}>
          <TextInput autoFocus maxLength={60} placeholder="Build service" {...register('name', { required: true })} />
        </Field>
        {hookId !== '' && <p className="font-mono text-[12px] text-ink-2">/receive/hooks/{hookId}</p>}
        {!fieldProblem(error, 'name') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || hookId === ''}>
          Make it
        </Button>
      </form>
    </Dialog>
  )
}
