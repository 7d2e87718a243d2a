import type { IncidentDetail } from '@dystracer/core/incidents/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { useReleasesQuery } from '#features/releases/releases.api'
import { SEVERITIES, toChoices } from '#shared/lib/choices'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { useChangeIncidentMutation, useOpenIncidentMutation } from './incidents.api'
import { fromLocalTime, toLocalTime } from '#shared/lib/instants'

const FIELDS = ['title', 'severity', 'service', 'environment', 'startedAtMs', 'leadId', 'cause'] as const

interface Props {
  project: string
  incident?: IncidentDetail
  onClose: () => void
}

/** Opens an incident, or says something else of one. */
export function IncidentDialog(props: Props) {
  const { data, isLoading } = useReleasesQuery()
  const { incident } = props
  const label = incident ? `Incident ${incident.number}` : 'Open an incident'
  // What can be chosen is there before the form: a choice that came later would stand on nothing.
  return (
    <Dialog title={label} isOpen onClose={props.onClose}>
      {isLoading ? (
        <Pending isLoading />
      ) : (
        <IncidentForm
          {...props}
          label={label}
          services={withOwn(data?.services.map(({ service }) => service) ?? [], incident?.service ?? null)}
          environments={withOwn(data?.environments.map(({ environment }) => environment) ?? [], incident?.environment ?? null)}
          usual={(data?.environments.find(({ kind }) => kind === 'production') ?? data?.environments[0])?.environment ?? 'production'}
        />
      )}
    </Dialog>
  )
}

/** What there is to choose, with what stands there though it is no more. */
function withOwn(known: readonly string[], own: string | null): string[] {
  return own === null || known.includes(own) ? [...known] : [...known, own]
}

function IncidentForm({
  project,
  incident,
  onClose,
  label,
  services,
  environments,
  usual,
}: Props & { label: string; services: readonly string[]; environments: readonly string[]; usual: string }) {
  const trail = usePaneTrail()
  const { me } = usePeople()
  const [open, opened] = useOpenIncidentMutation()
  const [change, changed] = useChangeIncidentMutation()
  const { error, isLoading } = incident ? changed : opened
  const { register, handleSubmit } = useForm({
    defaultValues: {
      title: incident?.title ?? '',
      severity: String(incident?.severity ?? 2),
      service: incident?.service ?? '',
      environment: incident?.environment ?? usual,
      startedAt: toLocalTime(incident?.startedAtMs ?? Date.now()),
      leadId: incident ? (incident.leadId ?? '') : (me?.person?.personId ?? ''),
      cause: incident?.cause ?? '',
    },
  })
  const submit = handleSubmit(async ({ title, severity, service, environment, startedAt, leadId, cause }) => {
    const asked = fromLocalTime(startedAt)
    // A minute that was not touched keeps its seconds.
    const isSame = incident !== undefined && asked !== null && toLocalTime(incident.startedAtMs) === startedAt
    const startedAtMs = isSame ? incident.startedAtMs : (asked ?? undefined)
    const facts = { title, severity: Number(severity), service: service || null, environment, startedAtMs, leadId: leadId || null, cause }
    const result = await (incident ? change({ project, number: String(incident.number), ...facts }) : open({ project, ...facts }))
    if (result.error) return
    onClose()
    if (!incident) trail.open({ kind: 'incident', id: `${project}/${result.data.number}` })
  })
  const wrong = (field: (typeof FIELDS)[number]) => fieldProblem(error, field)
  return (
    <form aria-label={label} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
      <Field label="What people notice, in one line" error={wrong('title')} isNeeded>
        <TextInput autoFocus maxLength={200} {...register('title', { required: true })} />
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="How bad" error={wrong('severity')}>
          <Choose choices={SEVERITIES} {...register('severity')} />
        </Field>
        <Field label="Who leads" error={wrong('leadId')}>
          <Choose
            none="nobody yet"
            choices={me?.people.map(({ personId, name }) => ({ value: personId, label: name })) ?? []}
            {...register('leadId')}
          />
        </Field>
        <Field label="Service" error={wrong('service')}>
          <Choose none="several, or not known" choices={toChoices(services)} {...register('service')} />
        </Field>
        <Field label="Where" error={wrong('environment')}>
          {environments.length > 0 ? (
            <Choose choices={toChoices(environments)} {...register('environment')} />
          ) : (
            <TextInput maxLength={100} {...register('environment', { required: true })} />
          )}
        </Field>
        <Field label="Since" error={wrong('startedAtMs')}>
          <TextInput type="datetime-local" {...register('startedAt', { required: true })} />
        </Field>
      </div>
      <Field label="Why it came about, once that is known (Markdown)" error={wrong('cause')}>
        <TextArea rows={incident ? 6 : 2} maxLength={20_000} {...register('cause')} />
      </Field>
      {!FIELDS.some((field) => wrong(field)) && <Refusal error={error} />}
      <Button look="main" type="submit" disabled={isLoading}>
        {incident ? 'Say it' : 'Open it'}
      </Button>
    </form>
  )
}
