import type { Scope } from '@dystracer/core/people/who'
import { useForm } from 'react-hook-form'
import { fieldProblem } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useMakeTokenMutation } from './people.api'

/** What a token of each scope may, as somebody who makes one would say it. */
export const SCOPE_WORDS: Record<Scope, string> = {
  intake: 'send errors, builds and source maps',
  telemetry: 'send errors',
  evidence: 'report builds, tests and deployments',
  maps: 'send source maps',
  mail: 'hand mail over',
  read: 'read',
  write: 'read and write',
  admin: 'everything',
}
const OF_PROJECT = ['intake', 'telemetry', 'evidence', 'maps', 'mail', 'read', 'write'] as const
/** A scope that a project's token can be made with on screen. */
export type OfferedScope = (typeof OF_PROJECT)[number]
const OWN = ['read', 'write'] as const
const DAYS = [
  { value: '', label: 'never' },
  { value: '30', label: 'after 30 days' },
  { value: '90', label: 'after 90 days' },
  { value: '365', label: 'after a year' },
]

interface Draft {
  name: string
  scope: OfferedScope
  services: string
  origins: string
  days: string
}
const words = (text: string) =>
  text
    .split(/[\s,]+/)
    .map((word) => word.trim())
    .filter(Boolean)

/** Makes a token for a program of a project, or one's own. What it is called tells later where it is used. */
export function MakeTokenDialog({
  project,
  begin = {},
  onClose,
  onMade,
}: {
  project: string | null
  /** What it begins with, where it is known what the token is for. */
  begin?: Partial<Draft>
  onClose: () => void
  onMade: (made: { name: string; token: string }) => void
}) {
  const [make, { error, isLoading }] = useMakeTokenMutation()
  const scopes = project === null ? OWN : OF_PROJECT
  const { register, handleSubmit, watch } = useForm<Draft>({
    defaultValues: { name: '', scope: scopes[0], services: '', origins: '', days: '', ...begin },
  })
  const hasServices = ['telemetry', 'intake'].includes(watch('scope')) && project !== null
  const hasOrigins = watch('scope') === 'telemetry' && project !== null
  const submit = handleSubmit(async ({ name, scope, services, origins, days }) => {
    const result = await make({
      project,
      body: {
        name,
        scope,
        services: hasServices ? words(services) : [],
        origins: hasOrigins ? words(origins) : [],
        days: days === '' ? null : Number(days),
      },
    })
    if (!result.error) onMade({ name: result.data.row.name, token: result.data.token })
  })
  // A list's mistakes are told by place: `origins.0`.
  const wrong = (field: 'name' | 'services' | 'origins') => fieldProblem(error, `${field}.0`) ?? fieldProblem(error, field)
  const isFieldWrong = wrong('name') ?? wrong('services') ?? wrong('origins')
  return (
    <Dialog title={project === null ? 'Make a token of your own' : 'Make a token'} isOpen onClose={onClose}>
      <form aria-label="Make a token" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="What it is for, such as: builds on the night machine" error={wrong('name')}>
          <TextInput autoFocus maxLength={60} {...register('name', { required: true })} />
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="It may">
            <Choose {...register('scope')} choices={scopes.map((scope) => ({ value: scope, label: SCOPE_WORDS[scope] }))} />
          </Field>
          <Field label="It ends">
            <Choose {...register('days')} choices={DAYS} />
          </Field>
        </div>
        {hasServices && (
          <Field label="Only for these services (with commas; empty for all of the project)" error={wrong('services')}>
            <TextInput maxLength={400} {...register('services')} />
          </Field>
        )}
        {hasOrigins && (
          <Field label="For web pages: only from these origins, such as https://shop.example.org" error={wrong('origins')}>
            <TextInput maxLength={400} {...register('origins')} />
          </Field>
        )}
        {!isFieldWrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          Make it
        </Button>
      </form>
    </Dialog>
  )
}
