import { parseKeys, parseSteps, printSteps } from '@dystracer/core/cases/steps-text'
import type { CaseDetail } from '@dystracer/core/cases/wire'
import { useForm } from 'react-hook-form'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useBeginCaseMutation, useWriteCaseMutation } from './cases.api'

/** Writes a case, or one anew: its steps are lines, each with what is expected behind an arrow. */
export function CaseDialog({ project, row, onClose }: { project: string; row?: CaseDetail; onClose: () => void }) {
  const trail = usePaneTrail()
  const [begin, begun] = useBeginCaseMutation()
  const [write, written] = useWriteCaseMutation()
  const { error, isLoading } = row ? written : begun
  const { register, handleSubmit } = useForm({
    defaultValues: {
      title: row?.title ?? '',
      text: row?.text ?? '',
      steps: row ? printSteps(row.steps) : '',
      verifies: row?.verifies.join(' ') ?? '',
    },
  })
  const submit = handleSubmit(async ({ title, text, steps, verifies }) => {
    const body = { title, text, steps: parseSteps(steps), verifies: parseKeys(verifies) }
    const result = await (row ? write({ project, number: String(row.number), ...body }) : begin({ project, ...body }))
    if (result.error) return
    onClose()
    if (!row) trail.open({ kind: 'case', id: `${project}/${result.data.number}` })
  })
  const wrong = (field: 'title' | 'text' | 'steps' | 'verifies') => fieldProblem(error, field)
  const isFieldWrong = (['title', 'text', 'steps', 'verifies'] as const).some((field) => wrong(field))
  const label = row ? `Test case ${row.number}` : 'A test case'
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <form aria-label={label} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Title" error={wrong('title')}>
          <TextInput autoFocus maxLength={200} {...register('title', { required: true })} />
        </Field>
        <Field label="What has to be so before (Markdown)" error={wrong('text')}>
          <TextArea rows={2} maxLength={20_000} {...register('text')} />
        </Field>
        <Field label="Steps: a line each, what is done => what is expected" error={wrong('steps')}>
          <TextArea
            rows={7}
            placeholder={'Heat to 300 °C => It heats\nOpen the lid => The heater stops within 2 s'}
            {...register('steps', { required: true })}
          />
        </Field>
        <Field label="Verifies: keys of requirements and items" error={wrong('verifies')}>
          <TextInput className="font-mono uppercase" {...register('verifies')} />
        </Field>
        {row && <p className="text-[12px] text-ink-2">Another text is a further revision: what was found before has to be found again.</p>}
        {!isFieldWrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          {row ? `Save revision ${row.revision + 1}` : 'Write it'}
        </Button>
      </form>
    </Dialog>
  )
}
