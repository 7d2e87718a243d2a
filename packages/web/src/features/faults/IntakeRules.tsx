import { SEVERITY_NUMBER, type SeverityName } from '@dystracer/core/faults/intake-rule'
import type { IntakeRuleRow } from '@dystracer/core/faults/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { toChoices } from '#shared/lib/choices'
import { plural } from '#shared/lib/format'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useIntakeRulesQuery, useRemoveIntakeRuleMutation, useSetIntakeRuleMutation, useTryIntakeRuleMutation } from './faults.api'

const PLACES = [
  { value: 'production', label: 'production' },
  { value: 'any', label: 'any environment' },
] as const
const SEVERITIES = toChoices(Object.keys(SEVERITY_NUMBER) as SeverityName[])
type Draft = Omit<IntakeRuleRow, 'ruleId' | 'fired' | 'lastFiredAtMs'>
const NEW: Draft = { name: '', environmentKind: 'production', severityAtLeast: 'error', countAtLeast: 5, windowMinutes: 10 }

/** Which faults become items by themselves; each rule can be tried before it is saved. */
export function IntakeRules() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useIntakeRulesQuery(project, { skip: project === '' })
  const [remove] = useRemoveIntakeRuleMutation()
  const [edited, setEdited] = useState<{ ruleId: string | null; draft: Draft } | null>(null)
  const canEdit = may('intake-rules.change')
  return (
    <section aria-label="Intake rules">
      <SectionHead>Intake rules: which faults become items by themselves</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && <p className="text-ink-3">None yet: faults become items by hand.</p>}
      <ul className="m-0 list-none p-0">
        {data?.rows.map(({ ruleId, fired, lastFiredAtMs, ...rule }) => (
          <li key={ruleId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
            <span className="min-w-0 flex-1">
              <b>{rule.name}</b>{' '}
              <span className="text-ink-2">
                {plural(rule.countAtLeast, 'time')} within {windowWords(rule.windowMinutes)}, {rule.severityAtLeast} or worse, in{' '}
                {rule.environmentKind === 'any' ? 'any environment' : 'production'}
              </span>
              <span className="block text-[12px] text-ink-3">
                {fired === 0 ? 'has not fired' : `made ${plural(fired, 'item')}, last `}
                {lastFiredAtMs !== null && <When atMs={lastFiredAtMs} />}
              </span>
            </span>
            {canEdit && (
              <>
                <Button look="line" aria-label={`Change ${rule.name}`} onClick={() => setEdited({ ruleId, draft: rule })}>
                  change
                </Button>
                <Button
                  look="line"
                  aria-label={`Remove ${rule.name}`}
                  onClick={() =>
                    void remove({ project, ruleId }).then((result) =>
                      result.error ? toast.error(problemText(result.error)) : toast.success(`${rule.name} is removed; its items stay`),
                    )
                  }
                >
                  remove
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {canEdit && (
        <p className="mt-2">
          <Button onClick={() => setEdited({ ruleId: null, draft: NEW })}>New rule…</Button>
        </p>
      )}
      {edited && (
        <RuleDialog {...edited} taken={data?.rows.map((row) => row.ruleId) ?? []} project={project} onClose={() => setEdited(null)} />
      )}
    </section>
  )
}

function windowWords(minutes: number): string {
  if (minutes % 1440 === 0) return plural(minutes / 1440, 'day')
  return minutes % 60 === 0 ? plural(minutes / 60, 'hour') : plural(minutes, 'minute')
}

function RuleDialog({
  ruleId,
  draft,
  taken,
  project,
  onClose,
}: {
  ruleId: string | null
  draft: Draft
  taken: readonly string[]
  project: string
  onClose: () => void
}) {
  const [save, { error, isLoading }] = useSetIntakeRuleMutation()
  const [tryIt, trial] = useTryIntakeRuleMutation()
  const { register, handleSubmit, getValues } = useForm<Draft>({ defaultValues: draft })
  const submit = handleSubmit(async (body) => {
    const result = await save({ project, ruleId: ruleId ?? freeId(body.name, [...taken]), body })
    if (result.error) return
    toast.success(`${body.name} is saved; it holds for what comes`)
    onClose()
  })
  const wrong = (field: keyof Draft) => fieldProblem(error ?? trial.error, field)
  const isFieldWrong = (['name', 'countAtLeast', 'windowMinutes'] as const).some((field) => wrong(field))
  return (
    <Dialog title={ruleId === null ? 'New intake rule' : `Change ${draft.name}`} isOpen onClose={onClose}>
      <form aria-label="Intake rule" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Name" error={wrong('name')}>
          <TextInput autoFocus maxLength={60} placeholder="Errors that customers meet" {...register('name', { required: true })} />
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="At least so many times" error={wrong('countAtLeast')}>
            <TextInput type="number" min={1} max={1000} {...register('countAtLeast', { valueAsNumber: true, required: true })} />
          </Field>
          <Field label="within so many minutes" error={wrong('windowMinutes')}>
            <TextInput type="number" min={1} max={43_200} {...register('windowMinutes', { valueAsNumber: true, required: true })} />
          </Field>
          <Field label="at least as bad as">
            <Choose {...register('severityAtLeast')} choices={SEVERITIES} />
          </Field>
          <Field label="in">
            <Choose {...register('environmentKind')} choices={PLACES} />
          </Field>
        </div>
        {!isFieldWrong && <Refusal error={error ?? trial.error} />}
        <div className="flex items-center gap-3">
          <Button look="main" type="submit" disabled={isLoading}>
            Save the rule
          </Button>
          <Button
            disabled={trial.isLoading}
            onClick={() => void tryIt({ project, body: { ...getValues(), name: getValues('name') || 'trial' } })}
          >
            Try it on what has come
          </Button>
        </div>
        {trial.data && (
          <div role="status" className="border-l-2 border-edge pl-2">
            <p>
              Of {plural(trial.data.looked, 'fault')} without an item it would have made items of{' '}
              {trial.data.rows.length === 0 ? 'none' : trial.data.rows.length}.
            </p>
            {trial.data.rows.map((row) => (
              <p key={row.fault} className="truncate text-[12px]">
                <ThingLink to={{ kind: 'fault', id: row.fault }} /> {row.service}: {row.type}, {row.message}
              </p>
            ))}
          </div>
        )}
      </form>
    </Dialog>
  )
}

/** An id for a new rule, made from its name. */
function freeId(name: string, taken: readonly string[]): string {
  const stem =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 30) || 'rule'
  for (let count = 1; ; count++) {
    const id = count === 1 ? stem : `${stem}-${count}`
    if (!taken.includes(id)) return id
  }
}
