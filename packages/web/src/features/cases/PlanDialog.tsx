import type { PlanDetail } from '@dystracer/core/cases/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { useReleasesQuery } from '#features/releases/releases.api'
import { plural, splitWords } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useCasesQuery, useChangeTestPlanMutation, useMakeTestPlanMutation } from './cases.api'

/** Plans which cases are done, of which release, where; or changes that. */
export function PlanDialog({ project, plan, onClose }: { project: string; plan?: PlanDetail; onClose: () => void }) {
  const trail = usePaneTrail()
  const { data: cases } = useCasesQuery(project)
  const { data: board } = useReleasesQuery()
  const [make, made] = useMakeTestPlanMutation()
  const [change, changed] = useChangeTestPlanMutation()
  const { error, isLoading } = plan ? changed : made
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set(plan?.cases.map(({ number }) => number)))
  const [words, setWords] = useState('')
  const { register, handleSubmit } = useForm({
    defaultValues: { name: plan?.name ?? '', release: plan?.release ?? '', environments: plan?.environments.join(', ') ?? 'staging' },
  })
  const fitting = (cases?.rows ?? []).filter(
    (row) => !row.isRetired && `${row.number} ${row.title} ${row.verifies.join(' ')}`.toLowerCase().includes(words.trim().toLowerCase()),
  )
  const toggle = (number: number) =>
    setChosen((before) => (before.has(number) ? new Set([...before].filter((one) => one !== number)) : new Set([...before, number])))
  const submit = handleSubmit(async ({ name, release, environments }) => {
    const body = { name, release: release || null, environments: splitWords(environments), cases: [...chosen].sort((a, b) => a - b) }
    const result = await (plan ? change({ project, planId: plan.planId, ...body }) : make({ project, ...body }))
    if (result.error) return
    onClose()
    if (!plan) trail.open({ kind: 'test-plan', id: `${project}/${result.data.planId}` })
  })
  const wrong = (field: 'name' | 'release' | 'environments' | 'cases') => fieldProblem(error, field)
  const isFieldWrong = (['name', 'release', 'environments', 'cases'] as const).some((field) => wrong(field))
  const releases = board?.services.flatMap((service) => service.releases.map((release) => `${service.service}@${release.release}`)) ?? []
  const label = plan ? `Change ${plan.name}` : 'Plan a test'
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <form aria-label={label} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Name" error={wrong('name')}>
          <TextInput autoFocus maxLength={200} placeholder="October" {...register('name', { required: true })} />
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Of which release" error={wrong('release')}>
            <Choose none="none in particular" choices={releases.map((value) => ({ value, label: value }))} {...register('release')} />
          </Field>
          <Field label="Where, parted by commas" error={wrong('environments')}>
            <TextInput {...register('environments', { required: true })} />
          </Field>
        </div>
        <fieldset className="m-0 min-w-0 border-0 p-0">
          <legend className="text-[12px] text-ink-2">{plural(chosen.size, 'case')} chosen</legend>
          <div className="flex gap-3">
            <TextInput
              aria-label="Cases with"
              placeholder="cases with …"
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
            <Button look="line" onClick={() => setChosen(new Set([...chosen, ...fitting.map(({ number }) => number)]))}>
              choose all of these
            </Button>
          </div>
          <ul className="m-0 max-h-[30vh] list-none overflow-y-auto p-0">
            {fitting.slice(0, 300).map((row) => (
              <li key={row.number} className="border-b border-edge-soft">
                <label className="flex min-h-[30px] items-center gap-2">
                  <input type="checkbox" checked={chosen.has(row.number)} onChange={() => toggle(row.number)} />
                  <span className="font-mono text-[12px] text-ink-2">{row.number}</span>
                  <span className="min-w-0 flex-1 truncate">{row.title}</span>
                  <span className="text-[12px] text-ink-2">{row.verifies.join(', ')}</span>
                </label>
              </li>
            ))}
          </ul>
          {wrong('cases') && (
            <span role="alert" className="text-fault">
              {wrong('cases')}
            </span>
          )}
        </fieldset>
        {!isFieldWrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || chosen.size === 0}>
          {plan ? 'Change it' : 'Plan it'}
        </Button>
      </form>
    </Dialog>
  )
}
