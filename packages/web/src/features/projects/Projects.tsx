import type { Body } from '#shared/lib/api'
import { useState } from 'react'
import { toast } from 'sonner'
import { useInviteMutation } from '#features/people/people.api'
import { toChoices } from '#shared/lib/choices'
import { workIn } from '#shared/lib/current-project'
import { problemText } from '#shared/lib/problem-text'
import { useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'

const ROLES = toChoices(['reader', 'member', 'lead'])

/** The projects, which of them one works in, and the people of that one. */
export function Projects({ onAddComponent }: { onAddComponent: (name: string) => Promise<boolean> }) {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const [component, setComponent] = useState('')
  if (!me) return null
  return (
    <>
      <section aria-label="Projects">
        <SectionHead>Projects</SectionHead>
        <ul className="m-0 list-none p-0">
          {me.projects.map((project) => (
            <li key={project.prefix} className="flex items-center gap-3 py-0.5">
              <span className="w-[64px] font-mono text-[12px] text-ink-2">{project.prefix}</span>
              <span className="w-[180px] truncate">{project.name}</span>
              {project.prefix === me.project.prefix ? (
                <span className="text-[12px] text-ink-2">you work here</span>
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
      </section>
      <section aria-label="Components">
        <SectionHead>Components</SectionHead>
        <p>{me.components.join(', ') || 'None yet. A component is a part of the software that somebody looks after.'}</p>
        {may('setup.change') && (
          <form
            aria-label="New component"
            className="mt-1 flex items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault()
              void onAddComponent(component.trim()).then((isAdded) => isAdded && setComponent(''))
            }}
          >
            <Field label="New component">
              <TextInput value={component} maxLength={100} onChange={(event) => setComponent(event.target.value)} />
            </Field>
            <Button type="submit" disabled={component.trim() === ''}>
              Add the component
            </Button>
          </form>
        )}
      </section>
      <People />
    </>
  )
}

function People() {
  const { me, may } = usePeople()
  const [draft, setDraft] = useState<Body<'invitePerson'>>({ name: '', email: '', role: 'member' })
  const [invite, { isLoading }] = useInviteMutation()
  const people = me?.people.filter((person) => person.role !== null) ?? []
  const send = async () => {
    const result = await invite({
      project: me?.project.prefix ?? '',
      body: { ...draft, name: draft.name.trim(), email: draft.email.trim() },
    })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${draft.name.trim()} is invited by mail`)
    setDraft({ name: '', email: '', role: 'member' })
  }
  return (
    <section aria-label="People">
      <SectionHead>People</SectionHead>
      <p>{people.map((person) => `${person.name} (${person.role})`).join(', ')}</p>
      {may('people.invite') && (
        <form
          aria-label="Invite somebody"
          className="mt-1 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            void send()
          }}
        >
          <Field label="Name">
            <TextInput value={draft.name} maxLength={100} onChange={(event) => setDraft({ ...draft, name: event.target.value })} />
          </Field>
          <Field label="E-mail address">
            <TextInput
              type="email"
              value={draft.email}
              maxLength={200}
              onChange={(event) => setDraft({ ...draft, email: event.target.value })}
            />
          </Field>
          <Field label="as a">
            <Choose value={draft.role} choices={ROLES} onChange={(event) => setDraft({ ...draft, role: event.target.value })} />
          </Field>
          <Button type="submit" disabled={isLoading || draft.name.trim() === '' || draft.email.trim() === ''}>
            Invite
          </Button>
        </form>
      )}
    </section>
  )
}
