import type { Me } from '@dystracer/core/desk/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { workIn } from '#shared/lib/current-project'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { useArchiveProjectMutation, useRenameProjectMutation } from './projects.api'

/** The projects, and which of them one works in; those that are archived stand below the others. */
export function Projects() {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const [open, setOpen] = useState<'rename' | 'archive' | null>(null)
  if (!me) return null
  const shown = me.projects.toSorted((a, b) => Number(a.isArchived) - Number(b.isArchived))
  return (
    <section aria-label="Projects">
      <SectionHead>Projects</SectionHead>
      <ul className="m-0 list-none p-0">
        {shown.map((project) => (
          <ProjectRow key={project.prefix} project={project} onRename={() => setOpen('rename')} onArchive={() => setOpen('archive')} />
        ))}
      </ul>
      {may('projects.make') && (
        <Button look="line" onClick={() => trail.open({ kind: 'new-project', id: '' })}>
          New project…
        </Button>
      )}
      {open === 'rename' && <RenameDialog project={me.project} onClose={() => setOpen(null)} />}
      {open === 'archive' && <ArchiveDialog project={me.project} onClose={() => setOpen(null)} />}
    </section>
  )
}

function ProjectRow({ project, onRename, onArchive }: { project: Me['projects'][number]; onRename: () => void; onArchive: () => void }) {
  const { me, may } = usePeople()
  const dispatch = useAppDispatch()
  const trail = usePaneTrail()
  const [archive, { isLoading }] = useArchiveProjectMutation()
  const { prefix, name, isArchived } = project
  const openAgain = async () => {
    const result = await archive({ project: prefix, isArchived: false })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${name} is open again`)
  }
  return (
    <li className="flex items-center gap-3 py-0.5">
      <span className="w-[64px] font-mono text-[12px] text-ink-2">{prefix}</span>
      <span className="w-[180px] truncate">{name}</span>
      {isArchived && (
        <>
          <span className="text-[12px] text-ochre">archived</span>
          <Button look="line" onClick={() => trail.open({ kind: 'items', id: `project=${prefix}` })}>
            its items
          </Button>
        </>
      )}
      {prefix === me?.project.prefix ? (
        <>
          <span className="text-[12px] text-ink-2">you work here</span>
          {may('setup.change') && (
            <Button look="line" onClick={onRename}>
              call it otherwise…
            </Button>
          )}
          {may('projects.archive') && (
            <Button look="line" disabled={isLoading} onClick={isArchived ? () => void openAgain() : onArchive}>
              {isArchived ? 'open it again' : 'archive it…'}
            </Button>
          )}
        </>
      ) : (
        <Button look="line" onClick={() => workIn(prefix, dispatch)}>
          Work in {name}
        </Button>
      )}
    </li>
  )
}

/** What archiving means, before it is done. */
function ArchiveDialog({ project, onClose }: { project: Me['project']; onClose: () => void }) {
  const [archive, { error, isLoading }] = useArchiveProjectMutation()
  const done = async () => {
    const result = await archive({ project: project.prefix, isArchived: true })
    if (result.error) return
    toast.success(`${project.name} is archived`)
    onClose()
  }
  return (
    <Dialog title={`Archive ${project.name}`} isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p>
          All of it can still be read and found by whoever could until now; its items stand in lists only where the filter names the
          project. Nobody changes anything in it: no item is logged there, not by rules, failing builds, mail or the public form either.
          What programs send of its code, builds and errors is kept as before.
        </p>
        <p className="text-ink-2">An administrator of the project can open it again, here, at any time.</p>
        <Refusal error={error} />
        <Button look="main" disabled={isLoading} onClick={() => void done()}>
          Archive it
        </Button>
      </div>
    </Dialog>
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
