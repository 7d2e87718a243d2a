import type { OwnProfile, PersonAddress, Person } from '@dystracer/core/people/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import { useAddressesOfMemberQuery, useClaimAddressMutation, useGiveUpAddressMutation, useWriteAddressDownMutation } from './people.api'
import { usePeople } from './use-people'

/** The further addresses by which commits and mails are one's own, and how another one is claimed. */
export function Addresses({ profile }: { profile: OwnProfile }) {
  const [claim, { error, isLoading }] = useClaimAddressMutation()
  const [giveUp] = useGiveUpAddressMutation()
  const send = async (email: string) => {
    const result = await claim({ email })
    if (result.error) return false
    toast.success(
      profile.hasMail
        ? `A link went to ${email}; open it within a week`
        : `${email} is noted; an administrator confirms it, since no mail goes out`,
    )
    return true
  }
  return (
    <section aria-label="Addresses">
      <SectionHead>Further addresses of yours</SectionHead>
      <p className="mb-1 text-ink-2">
        What is committed or mailed from them counts as yours once each is confirmed: for reviews, ownership and time in messages.
      </p>
      <AddressRows
        rows={profile.addresses}
        onAgain={profile.hasMail ? (email) => void send(email) : undefined}
        onGiveUp={(email) =>
          void giveUp(email).then((result) =>
            result.error ? toast.error(problemText(result.error)) : toast.success(`${email} is not yours any more`),
          )
        }
      />
      <AddressForm label="Claim an address" deed="Claim it" error={error} isLoading={isLoading} onSubmit={send} />
    </section>
  )
}

/** The addresses of a member, for an administrator who knows which are theirs. */
export function AddressesDialog({ person, onClose }: { person: Person; onClose: () => void }) {
  const { me } = usePeople()
  const place = { project: me?.project.prefix ?? '', personId: person.personId }
  const { data, error: unread, isLoading: isReading } = useAddressesOfMemberQuery(place)
  const [write, { error, isLoading }] = useWriteAddressDownMutation()
  const confirm = async (email: string) => {
    const result = await write({ ...place, email })
    if (result.error) return false
    toast.success(`${email} is an address of ${person.name}`)
    return true
  }
  return (
    <Dialog title={`Addresses of ${person.name}`} isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p className="text-ink-2">
          Commits and mails from these are theirs, beside the one that they sign in with. Write down only what you know.
        </p>
        <Pending error={unread} isLoading={isReading} />
        <AddressRows rows={data?.rows ?? []} onConfirm={(email) => void confirm(email)} />
        <AddressForm label="Write an address down" deed="It is theirs" error={error} isLoading={isLoading} onSubmit={confirm} />
      </div>
    </Dialog>
  )
}

function AddressRows({
  rows,
  onAgain,
  onConfirm,
  onGiveUp,
}: {
  rows: readonly PersonAddress[]
  onAgain?: ((email: string) => void) | undefined
  onConfirm?: (email: string) => void
  onGiveUp?: (email: string) => void
}) {
  return (
    <ul aria-label="Further addresses" className="m-0 list-none p-0">
      {rows.map(({ email, confirmedAtMs }) => (
        <li key={email} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
          <span className="min-w-0 flex-1 truncate" title={email}>
            {email}
          </span>
          {confirmedAtMs === null ? (
            <span className="text-[12px] text-ochre">not confirmed yet</span>
          ) : (
            <span className="text-[12px] text-ink-2">
              confirmed <When atMs={confirmedAtMs} />
            </span>
          )}
          {confirmedAtMs === null && onAgain && (
            <Button look="line" aria-label={`send the link to ${email} again`} onClick={() => onAgain(email)}>
              send again
            </Button>
          )}
          {confirmedAtMs === null && onConfirm && (
            <Button look="line" aria-label={`confirm ${email}`} onClick={() => onConfirm(email)}>
              confirm
            </Button>
          )}
          {onGiveUp && (
            <Button look="line" aria-label={`give up ${email}`} onClick={() => onGiveUp(email)}>
              give up
            </Button>
          )}
        </li>
      ))}
    </ul>
  )
}

function AddressForm({
  label,
  deed,
  error,
  isLoading,
  onSubmit,
}: {
  label: string
  deed: string
  error: unknown
  isLoading: boolean
  onSubmit: (email: string) => Promise<boolean>
}) {
  const { register, handleSubmit, reset } = useForm({ defaultValues: { email: '' } })
  const submit = handleSubmit(async ({ email }) => {
    if (await onSubmit(email.trim())) reset()
  })
  const wrong = fieldProblem(error, 'email')
  return (
    <form aria-label={label} className="mt-2 flex flex-wrap items-start gap-2" onSubmit={(event) => void submit(event)}>
      <Field label="E-mail address" error={wrong}>
        <TextInput type="email" maxLength={200} {...register('email', { required: true })} />
      </Field>
      <Button type="submit" className="mt-[21px]" disabled={isLoading}>
        {deed}
      </Button>
      {!wrong && <Refusal error={error} />}
    </form>
  )
}
