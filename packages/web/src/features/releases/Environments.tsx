import { ENVIRONMENT_KINDS, type ReleaseBoard } from '@dystracer/core/releases/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { PlaceGates } from '#features/places/index'
import { toChoices } from '#shared/lib/choices'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { DeedTable } from '#shared/ui/DeedTable'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead } from '#shared/ui/parts'
import { useReleasesQuery, useRemoveEnvironmentMutation, useSetEnvironmentMutation } from './releases.api'

type Environment = ReleaseBoard['environments'][number]

/** Where releases run, in the order in which they go through; and how a deployment is reported from wherever it happens. */
export function Environments() {
  const { data, error, isLoading } = useReleasesQuery()
  const { may } = usePeople()
  const rows = data?.environments ?? []
  return (
    <>
      <section aria-label="Environments">
        <SectionHead>Environments</SectionHead>
        <p className="mb-1 text-ink-2">
          Where releases run, in the order in which they go through. What runs in production counts as released, and silence there proves a
          fix.
        </p>
        <Pending error={error} isLoading={isLoading} />
        {data && rows.length === 0 && <p className="text-ink-3">None yet.</p>}
        {rows.length > 0 && (
          <DeedTable
            headings={[{ label: 'Order', className: 'w-[70px]' }, 'Name', { label: 'Kind', className: 'w-[130px]' }, 'Needs approval']}
          >
            {rows.map((row) => (
              <EnvironmentRow key={row.environment} row={row} canEdit={may('environments.set-up')} />
            ))}
          </DeedTable>
        )}
        {may('environments.set-up') && <NewEnvironment rows={rows} />}
      </section>
      <PlaceGates environments={rows.map(({ environment }) => environment)} canEdit={may('environments.set-up')} />
      <ReportDeployment environment={rows.at(-1)?.environment ?? 'production'} service={data?.services[0]?.service ?? 'SERVICE'} />
    </>
  )
}

function EnvironmentRow({ row, canEdit }: { row: Environment; canEdit: boolean }) {
  const [set] = useSetEnvironmentMutation()
  const [remove] = useRemoveEnvironmentMutation()
  const { environment, kind, needsApproval, position } = row
  const change = (fields: Partial<Environment>) =>
    void set({ environment, kind, needsApproval, position, ...fields }).then((result) =>
      result.error ? toast.error(problemText(result.error)) : toast.success(`${environment} is saved`),
    )
  return (
    <tr className="border-t border-edge-soft">
      <td className="py-1 pr-2">
        <TextInput
          type="number"
          min={1}
          max={1000}
          aria-label={`Order of ${environment}`}
          className="py-0.5!"
          disabled={!canEdit}
          defaultValue={position}
          onBlur={(event) => {
            const next = Number(event.target.value)
            if (Number.isInteger(next) && next > 0 && next !== position) change({ position: next })
          }}
        />
      </td>
      <td>{environment}</td>
      <td className="pr-2">
        <Choose
          aria-label={`Kind of ${environment}`}
          className="py-0.5!"
          disabled={!canEdit}
          value={kind}
          choices={toChoices(ENVIRONMENT_KINDS)}
          onChange={({ target }) => change({ kind: target.value as Environment['kind'] })}
        />
      </td>
      <td>
        <input
          type="checkbox"
          aria-label={`${environment} needs approval`}
          disabled={!canEdit}
          checked={needsApproval}
          onChange={(event) => change({ needsApproval: event.target.checked })}
        />
      </td>
      <td className="text-right">
        {canEdit && (
          <Button
            look="line"
            aria-label={`Remove ${environment}`}
            onClick={() =>
              void remove(environment).then((result) =>
                result.error ? toast.error(problemText(result.error)) : toast.success(`${environment} is removed`),
              )
            }
          >
            remove
          </Button>
        )}
      </td>
    </tr>
  )
}

function NewEnvironment({ rows }: { rows: readonly Environment[] }) {
  const [set, { error, isLoading }] = useSetEnvironmentMutation()
  const { register, handleSubmit, reset } = useForm<{ environment: string; kind: Environment['kind'] }>({
    defaultValues: { environment: '', kind: 'production' },
  })
  const submit = handleSubmit(async (input) => {
    const result = await set({
      ...input,
      environment: input.environment.trim(),
      position: Math.min(1000, (rows.at(-1)?.position ?? 0) + 1),
    })
    if (result.error) return
    toast.success(`${input.environment} is set up`)
    reset()
  })
  const wrong = fieldProblem(error, 'environment')
  return (
    <form aria-label="New environment" className="mt-2 flex flex-wrap items-start gap-2" onSubmit={(event) => void submit(event)}>
      <Field label="New environment" error={wrong}>
        <TextInput maxLength={50} placeholder="production" {...register('environment', { required: true })} />
      </Field>
      <Field label="Kind">
        <Choose {...register('kind')} choices={toChoices(ENVIRONMENT_KINDS)} />
      </Field>
      <Button type="submit" className="mt-[21px]" disabled={isLoading}>
        Add the environment
      </Button>
      {!wrong && <Refusal error={error} />}
    </form>
  )
}

/** The commands that report a deployment; a token of scope evidence goes with either. */
function ReportDeployment({ environment, service }: { environment: string; service: string }) {
  const command = `TYPE=dev.cdevents.service.deployed.0.2.0 ID=$(date +%s)
curl -H "Authorization: Bearer TOKEN" -H "Content-Type: application/cloudevents+json" \\
  "${window.location.origin}/receive/cloudevents" --data @- <<END
{"specversion":"1.0","id":"$ID","source":"/deploy","type":"$TYPE","datacontenttype":"application/json","data":{
 "context":{"version":"0.4.1","id":"$ID","source":"/deploy","type":"$TYPE","timestamp":"$(date -u +%FT%TZ)"},
 "subject":{"id":"${service}","content":{"environment":{"id":"${environment}"},"artifactId":"pkg:generic/${service}@1.2.3"}}}}
END`
  return (
    <section aria-label="Report a deployment">
      <SectionHead>Report a deployment</SectionHead>
      <p className="text-ink-2">From wherever it happens, with a token that may report builds, tests and deployments (Settings, Tokens):</p>
      <Copyable text={`node dys.mjs deployed ${service} 1.2.3 ${environment}`} label="Short command that reports a deployment" />
      <p className="mt-1 text-ink-2">or as an event of CDEvents, by curl alone:</p>
      <Copyable text={command} label="Command that reports a deployment" />
    </section>
  )
}
