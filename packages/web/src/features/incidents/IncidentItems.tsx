import { ITEM_ROLES, type IncidentDetail, type ItemRole } from '@dystracer/core/incidents/wire'
import { useRef } from 'react'
import { useForm } from 'react-hook-form'
import { useLogItemMutation } from '#features/items/items.api'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { ROLE_WORDS } from './incidents.words'
import { useTieIncidentItemMutation } from './incidents.api'

const ROLE_CHOICES = ITEM_ROLES.map((value) => ({ value, label: ROLE_WORDS[value] }))

/** The items behind an incident: as what it was reported, what caused it, and what is to be done after it. */
export function IncidentItems({ incident, mayHandle }: { incident: IncidentDetail; mayHandle: boolean }) {
  const of = { project: incident.project, number: String(incident.number) }
  return (
    <section aria-label="Items" className="border-t border-edge px-4 py-3">
      <SectionHead>Items</SectionHead>
      {ITEM_ROLES.map((role) => (
        <OfRole key={role} incident={incident} role={role} mayHandle={mayHandle} />
      ))}
      {mayHandle && (
        <>
          <TieForm of={of} />
          <FollowUpForm of={of} title={incident.title} />
        </>
      )}
    </section>
  )
}

function OfRole({ incident, role, mayHandle }: { incident: IncidentDetail; role: ItemRole; mayHandle: boolean }) {
  const [tie] = useTieIncidentItemMutation()
  const items = incident.items.filter((item) => item.role === role)
  if (items.length === 0) return null
  return (
    <div className="mb-1">
      <div className="text-[12px] text-ink-2">{ROLE_WORDS[role]}</div>
      {items.map((item) => (
        <p key={item.key} className="m-0 flex gap-3 leading-6">
          <ThingLink to={{ kind: 'item', id: item.key }} className="shrink-0" />
          <span className={`min-w-0 flex-1 truncate ${item.isOpen ? '' : 'text-ink-3 line-through'}`}>{item.title}</span>
          {mayHandle && (
            <Button
              look="text"
              aria-label={`Take away ${item.key}`}
              onClick={async () =>
                tellRefusal(await tie({ project: incident.project, number: String(incident.number), key: item.key, role: null }))
              }
            >
              take away
            </Button>
          )}
        </p>
      ))}
    </div>
  )
}

function TieForm({ of }: { of: { project: string; number: string } }) {
  const [tie, { error, isLoading }] = useTieIncidentItemMutation()
  const { register, handleSubmit, reset } = useForm<{ key: string; role: ItemRole }>({ defaultValues: { key: '', role: 'cause' } })
  const submit = handleSubmit(async ({ key, role }) => {
    const result = await tie({ ...of, key: key.trim().toUpperCase(), role })
    if (!result.error) reset()
  })
  return (
    <form aria-label="An item that is there" className="mt-1 flex flex-wrap items-center gap-2" onSubmit={(event) => void submit(event)}>
      <Choose aria-label="What it is to the incident" choices={ROLE_CHOICES} className="w-[170px]!" {...register('role')} />
      <TextInput
        aria-label="Key of an item"
        placeholder="key of an item"
        maxLength={20}
        className="w-[130px]!"
        {...register('key', { required: true })}
      />
      <Button look="line" type="submit" disabled={isLoading}>
        Tie it
      </Button>
      <Refusal error={error} />
    </form>
  )
}

/** Logs a task that is to be done after the incident, and ties it. */
function FollowUpForm({ of, title: incident }: { of: { project: string; number: string }; title: string }) {
  const [log, logged] = useLogItemMutation()
  // Sent again after a lost answer, it is one item.
  const key = useRef(crypto.randomUUID())
  const [tie, tied] = useTieIncidentItemMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { title: '' } })
  const submit = handleSubmit(async ({ title }) => {
    const item = await log({
      input: { project: of.project, type: 'task', title, description: `After incident ${of.number}: ${incident}` },
      idempotencyKey: key.current,
    })
    if (item.error) return
    const result = await tie({ ...of, key: item.data.key, role: 'follow-up' })
    if (result.error) return
    key.current = crypto.randomUUID()
    reset()
  })
  return (
    <form aria-label="A new follow-up" className="mt-2 flex flex-wrap items-center gap-2" onSubmit={(event) => void submit(event)}>
      <TextInput
        aria-label="What is to be done after it"
        placeholder="what is to be done after it"
        maxLength={200}
        className="w-auto! min-w-[180px] flex-1"
        {...register('title', { required: true })}
      />
      <Button look="line" type="submit" disabled={logged.isLoading || tied.isLoading}>
        Log a follow-up
      </Button>
      <Refusal error={logged.error ?? tied.error} />
    </form>
  )
}
