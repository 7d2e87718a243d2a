import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { workIn } from '#shared/lib/current-project'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { useRenameProjectMutation } from './projects.api'

/** The projects, and which of them one works in. */
export function Projects() {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const [isRenaming, setIsRenaming] = useState(false)
  if (!me) return null
  return (
    <section aria-label="Projects">
      <SectionHead>Projects</SectionHead>
      <ul className="m-0 list-none p-0">
        {me.projects.map((project) => (
          <li key={project.prefix} className="flex items-center gap-3 py-0.5">
            <span className="w-[64px] font-mono text-[12px] text-ink-2">{project.prefix}</span>
            <span className="w-[180px] truncate">{project.name}</span>
            {project.prefix === me.project.prefix ? (
              <>
                <span className="text-[12px] text-ink-2">you work here</span>
                {may('setup.change') && (
                  <Button look="line" onClick={() => setIsRenaming(true)}>
                    call it otherwise…
                  </Button>
                )}
              </>
            ) : (
              <Button look="line" onClick={() => workIn(project.prefix, dispatch)}>
                Work in {project.name}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may('projects.make') && (
        <Button look="line" onClick={() => trail.open({ kind: 'new-project', id: '' })}>
          New project…
        </Button>
      )}
      {isRenaming && <RenameDialog project={me.project} onClose={() => setIsRenaming(false)} />}
    </section>
  )
}

/** Another name for a project; its prefix, and with it every key, stays. */
function RenameDialog({ project, onClose }: { project: { prefix: string; name: string }; onClose: () => void }) {
  const [rename, { error, isLoading }] = useRenameProjectMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { name: project.name } })
  const submit = handleSubmit(async ({ name }) => {
    const result = await rename({ project: project.prefix, name })
    if (result.error) return
    toast.success(`It is called ${name.trim()} now`)
    onClose()
  })
  const wrong = fieldProblem(error, 'name')
  return (
    <Dialog title={`What ${project.prefix} is called`} isOpen onClose={onClose}>
      <form aria-label={`What ${project.prefix} is called`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Name" error={wrong}>
          <TextInput autoFocus maxLength={60} {...register('name', { required: true })} />
        </Field>
        <p className="text-ink-2">
          Its keys go on as {project.prefix}-1, {project.prefix}-2 and so on.
        </p>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Call it so
        </Button>
      </form>
    </Dialog>
  )
}
