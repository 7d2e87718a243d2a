import { roleAllows, ROLES, type Role } from '@dystracer/core/people/permissions'
import type { Person } from '@dystracer/core/people/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { toChoices } from '#shared/lib/choices'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { DeedTable } from '#shared/ui/DeedTable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Initials, Refusal, SectionHead, When } from '#shared/ui/parts'
import { AddressesDialog } from './Addresses'
import { LeaveDialog } from './LeaveDialog'
import { useGiveRoleMutation, useInviteMutation, useMailRefusalsQuery, useMakeResetLinkMutation } from './people.api'
import { usePeople } from './use-people'

/** What each role may, in the words of somebody who chooses one. */
const ROLE_WORDS: Record<Role, string> = {
  reader: 'reads, and changes nothing',
  member: 'logs, decides, comments, books time, asks for merges and deployments',
  lead: 'also sets the project up, invites, approves, reads what is confidential',
  admin: 'also makes administrators and sees the secret of webhooks',
}

/** Who belongs to the project one works in, as what, and how somebody new comes in. */
export function Members() {
  const { me, may } = usePeople()
  const [link, setLink] = useState<{ what: string; text: string } | null>(null)
  const { data: refusals } = useMailRefusalsQuery(me?.project.prefix ?? '', { skip: !me || !may('people.invite') })
  if (!me) return null
  const members = me.people.filter((person) => person.role !== null)
  return (
    <>
      <section aria-label="People">
        <SectionHead>People of {me.project.name}</SectionHead>
        <DeedTable headings={['Name', { label: 'Role', className: 'w-[130px]' }]}>
          {members.map((person) => (
            <MemberRow
              key={person.personId}
              person={person}
              refusal={refusals?.rows.find((row) => row.personId === person.personId)}
              onLink={setLink}
            />
          ))}
        </DeedTable>
        <ul aria-label="What the roles may" className="mt-2 list-none p-0 text-[12px] text-ink-2">
          {ROLES.map((role) => (
            <li key={role}>
              <b>{role}</b>: {ROLE_WORDS[role]}
            </li>
          ))}
        </ul>
      </section>
      {link && (
        <section aria-label={link.what} className="border-l-2 border-ochre bg-ochre-soft px-2 py-1">
          <p>{link.what}. Give this link to them alone; it holds once, and this is the only time that it is shown.</p>
          <Copyable text={link.text} label="Link" />
        </section>
      )}
      {may('people.invite') && <InviteForm onLink={setLink} />}
    </>
  )
}

function MemberRow({
  person,
  refusal,
  onLink,
}: {
  person: Person
  refusal: { why: string; atMs: number } | undefined
  onLink: (link: { what: string; text: string }) => void
}) {
  const { me, may } = usePeople()
  const [give] = useGiveRoleMutation()
  const [makeLink] = useMakeResetLinkMutation()
  const [isLeaving, setIsLeaving] = useState(false)
  const [isAddressed, setIsAddressed] = useState(false)
  const place = { project: me?.project.prefix ?? '', personId: person.personId }
  const canChange = may('people.invite') && (person.role !== 'admin' || may('people.make-admin'))
  const choices = toChoices(ROLES.filter((role) => role !== 'admin' || may('people.make-admin') || person.role === 'admin'))
  const told = (said: string) => (result: { error?: unknown }) =>
    void (result.error ? toast.error(problemText(result.error)) : toast.success(said))
  return (
    <tr className="border-t border-edge-soft">
      <td className="py-1">
        <Initials text={person.initials} /> {person.name}
        {refusal && (
          <span className="block text-[12px] text-fault">
            since <When atMs={refusal.atMs} /> {refusal.why}
          </span>
        )}
      </td>
      <td>
        {canChange ? (
          <Choose
            aria-label={`Role of ${person.name}`}
            className="py-0.5!"
            value={person.role ?? ''}
            choices={choices}
            onChange={({ target }) =>
              void give({ ...place, role: target.value as Role }).then(told(`${person.name} is ${target.value} now`))
            }
          />
        ) : (
          person.role
        )}
      </td>
      <td className="text-right whitespace-nowrap">
        {canChange && person.personId !== me?.person?.personId && (
          <Button look="line" onClick={() => setIsLeaving(true)} aria-label={`take out… ${person.name}`}>
            take out…
          </Button>
        )}
        {isLeaving && <LeaveDialog person={person} onClose={() => setIsLeaving(false)} />}
        {may('people.make-admin') && person.personId !== me?.person?.personId && (
          <>
            {' · '}
            <Button look="line" aria-label={`addresses of ${person.name}`} onClick={() => setIsAddressed(true)}>
              addresses
            </Button>
            {isAddressed && <AddressesDialog person={person} onClose={() => setIsAddressed(false)} />}
            {' · '}
            <Button
              look="line"
              aria-label={`new password for ${person.name}`}
              onClick={() =>
                void makeLink(place).then((result) =>
                  result.error
                    ? toast.error(problemText(result.error))
                    : onLink({ what: `${person.name} chooses a new password within the hour`, text: result.data.link }),
                )
              }
            >
              new password
            </Button>
          </>
        )}
      </td>
    </tr>
  )
}

function InviteForm({ onLink }: { onLink: (link: { what: string; text: string } | null) => void }) {
  const { me } = usePeople()
  const [invite, { isLoading, error }] = useInviteMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { name: '', email: '', role: 'member' as Role } })
  const role = me?.person?.role ?? null
  const submit = handleSubmit(async (input) => {
    const result = await invite({ project: me?.project.prefix ?? '', body: input })
    if (result.error) return
    const { link } = result.data
    onLink(link === null ? null : { what: `${input.name} is written down, and no mail goes out from here`, text: link })
    if (link === null) toast.success(`${input.name} is invited by mail`)
    reset()
  })
  const isFieldWrong = fieldProblem(error, 'name') ?? fieldProblem(error, 'email')
  return (
    <section aria-label="Invite">
      <SectionHead>Invite somebody</SectionHead>
      <form aria-label="Invite somebody" className="flex flex-wrap items-start gap-2" onSubmit={(event) => void submit(event)}>
        <Field label="Name" error={fieldProblem(error, 'name')}>
          <TextInput maxLength={100} {...register('name', { required: true })} />
        </Field>
        <Field label="E-mail address" error={fieldProblem(error, 'email')}>
          <TextInput type="email" maxLength={200} {...register('email', { required: true })} />
        </Field>
        <Field label="as a">
          <Choose
            {...register('role')}
            choices={toChoices(ROLES.filter((known) => known !== 'admin' || roleAllows(role, 'people.make-admin')))}
          />
        </Field>
        <Button type="submit" className="mt-[21px]" disabled={isLoading}>
          Invite
        </Button>
      </form>
      {!isFieldWrong && <Refusal error={error} />}
    </section>
  )
}
