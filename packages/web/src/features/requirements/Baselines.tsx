import type { Baseline } from '@dystracer/core/requirements/baselines-wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Quiet, Refusal, When } from '#shared/ui/parts'
import { useAgreeBaselineMutation, useBaselinesQuery, useMakeBaselineMutation, useWithdrawBaselineMutation } from './requirements.api'

/** Named states of the requirements: made of what stands now, agreed to by people, never changed. */
export function Baselines({ project, canMake }: { project: string; canMake: boolean }) {
  const { data, error, isLoading } = useBaselinesQuery(project)
  const [withdrawing, setWithdrawing] = useState<Baseline | null>(null)
  return (
    <div className="px-4 py-3">
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && (
        <Quiet>None yet. A baseline keeps every requirement, its revision and what is tied to it as they stand now, under a name.</Quiet>
      )}
      <ul aria-label="Baselines" className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <BaselineLine key={row.baselineId} project={project} row={row} canAct={canMake} onWithdraw={() => setWithdrawing(row)} />
        ))}
      </ul>
      {canMake && <MakeBaseline project={project} />}
      {withdrawing && <WithdrawDialog project={project} row={withdrawing} onClose={() => setWithdrawing(null)} />}
    </div>
  )
}

function BaselineLine({ project, row, canAct, onWithdraw }: { project: string; row: Baseline; canAct: boolean; onWithdraw: () => void }) {
  const { me, nameOf } = usePeople()
  const trail = usePaneTrail()
  const [agree, { isLoading }] = useAgreeBaselineMutation()
  const hasAgreed = row.agreedBy.some((one) => one.personId === me?.person?.personId)
  const submit = async () => {
    const result = await agree({ project, baselineId: row.baselineId })
    if (result.error) toast.error(problemText(result.error))
  }
  return (
    <li className={`flex items-baseline gap-3 border-b border-edge-soft py-1.5 ${row.withdrawn === null ? '' : 'text-ink-3'}`}>
      <span className="min-w-0 flex-1">
        <button
          type="button"
          className={`link min-h-6 font-bold ${row.withdrawn === null ? '' : 'line-through'}`}
          onClick={() => trail.open({ kind: 'baseline', id: `${project}/${row.baselineId}` })}
        >
          {row.name}
        </button>{' '}
        {plural(row.requirements, 'requirement')}, {plural(row.links, 'tie')}, made by {nameOf(row.by)} <When atMs={row.atMs} />
        {row.words && <span className="block text-ink-2">{row.words}</span>}
        <span className="block text-[12px] text-ink-2">
          {row.agreedBy.length > 0
            ? `agreed by ${row.agreedBy.map((one) => nameOf(one.personId)).join(', ')}`
            : 'nobody has agreed to it yet'}{' '}
          ·{' '}
          <span title={`SHA-256 ${row.hash}`} className="font-mono">
            {row.hash.slice(0, 12)}
          </span>
          {!row.isIntact && <b className="text-fault"> its content does not give this hash any more</b>}
        </span>
        {row.withdrawn !== null && <span className="block text-[12px]">does not count any more: {row.withdrawn}</span>}
      </span>
      {canAct && row.withdrawn === null && (
        <span className="flex shrink-0 gap-3">
          {!hasAgreed && (
            <Button look="line" disabled={isLoading} aria-label={`I agree to ${row.name}`} onClick={() => void submit()}>
              I agree
            </Button>
          )}
          <Button look="line" aria-label={`Withdraw ${row.name}`} onClick={onWithdraw}>
            withdraw…
          </Button>
        </span>
      )}
    </li>
  )
}

function MakeBaseline({ project }: { project: string }) {
  const [make, { error, isLoading }] = useMakeBaselineMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { name: '', words: '' } })
  const submit = handleSubmit(async (body) => {
    const result = await make({ project, ...body })
    if (!result.error) reset()
  })
  return (
    <form aria-label="Make a baseline" className="mt-4 max-w-[420px] space-y-2" onSubmit={(event) => void submit(event)}>
      <Field label="A baseline of what stands now, by the name" error={fieldProblem(error, 'name')}>
        <TextInput maxLength={60} placeholder="4.2" {...register('name', { required: true })} />
      </Field>
      <Field label="What it is for">
        <TextInput maxLength={2000} {...register('words')} />
      </Field>
      {!fieldProblem(error, 'name') && <Refusal error={error} />}
      <Button type="submit" disabled={isLoading}>
        Make the baseline
      </Button>
    </form>
  )
}

function WithdrawDialog({ project, row, onClose }: { project: string; row: Baseline; onClose: () => void }) {
  const [withdraw, { error, isLoading }] = useWithdrawBaselineMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { words: '' } })
  const submit = handleSubmit(async ({ words }) => {
    const result = await withdraw({ project, baselineId: row.baselineId, words })
    if (!result.error) onClose()
  })
  return (
    <Dialog title={`Withdraw ${row.name}`} isOpen onClose={onClose}>
      <form aria-label="Withdraw a baseline" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">It stays readable, and counts no more.</p>
        <Field label="Why" isNeeded>
          <TextArea autoFocus rows={2} maxLength={2000} {...register('words', { required: true })} />
        </Field>
        <Refusal error={error} />
        <Button look="main" type="submit" disabled={isLoading}>
          Withdraw it
        </Button>
      </form>
    </Dialog>
  )
}
