import type { CaseDetail, Outcome, PlanDetail } from '@dystracer/core/cases/wire'
import { useState, type KeyboardEvent } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Field, TextInput } from '#shared/ui/fields'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { PictureText } from '#shared/ui/PictureText'
import { useDoCaseMutation, useTestCaseQuery, useTestPlanQuery } from './cases.api'
import { nextOpen, numbered, runId } from './next-open'

/** A case being done: step by step, by keys or clicks; what was found goes into the plan, and the next open place comes up. */
export function RunPane({ id }: { id: string }) {
  const [project = '', planId = '', number = '', ...rest] = id.split('/')
  const environment = rest.join('/')
  const row = useTestCaseQuery({ project, number })
  const plan = useTestPlanQuery({ project, planId })
  return (
    <Pane label={`Case ${number} in ${environment}`} title={`Case ${number} in ${environment}`}>
      <Pending error={row.error ?? plan.error} isLoading={row.isLoading || plan.isLoading} />
      {row.data && plan.data && <Run key={id} row={row.data} plan={plan.data} environment={environment} />}
    </Pane>
  )
}

function Run({ row, plan, environment }: { row: CaseDetail; plan: PlanDetail; environment: string }) {
  // How many steps did what they should, and which one did not.
  const [done, setDone] = useState(0)
  const [failedAt, setFailedAt] = useState<number | null>(null)
  const [outcome, setOutcome] = useState<Outcome | null>(null)
  const isOver = outcome !== null || done >= row.steps.length
  const pass = () => {
    if (isOver) return
    setDone(done + 1)
    if (done + 1 === row.steps.length) setOutcome('passed')
  }
  const fail = (step: number) => {
    setFailedAt(step)
    setOutcome('failed')
  }
  const back = () => {
    setOutcome(null)
    setFailedAt(null)
    setDone(Math.max(0, outcome === 'failed' ? done : done - 1))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const deeds: Record<string, () => void> = { p: pass, f: () => !isOver && fail(done + 1), b: back }
    const deed = deeds[event.key.toLowerCase()]
    if (!deed) return
    event.preventDefault()
    event.stopPropagation()
    deed()
  }
  return (
    <div className="px-4 py-3">
      <h3 className="m-0 text-[15px] font-bold">{row.title}</h3>
      {row.text.trim() && <Markdown text={row.text} />}
      <ol
        aria-label="Steps: p it did what it should, f it did not, b back"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the keys of the run belong to its steps
        tabIndex={0}
        onKeyDown={onKeyDown}
        className="m-0 mt-2 list-none p-0"
      >
        {numbered(row.steps).map(({ number, ...step }) => {
          const isNow = number === done + 1 && !isOver
          return (
            <li
              key={number}
              aria-current={isNow ? 'step' : undefined}
              className={`flex gap-3 border-t border-edge-soft py-1.5 ${isNow ? 'bg-mark' : ''}`}
            >
              <span
                aria-hidden="true"
                className={`mt-[9px] h-[4px] w-[18px] shrink-0
                  ${failedAt === number ? 'bg-fault' : number <= done ? 'bg-proof' : 'bg-edge'}`}
              />
              <span className="min-w-0 flex-1 whitespace-pre-wrap">
                {number}. {step.do}
                {step.expect && <span className="block text-ink-2">→ {step.expect}</span>}
              </span>
              {isNow && (
                <span className="flex shrink-0 items-start gap-2">
                  <Button look="line" aria-label={`it did: step ${number}`} onClick={pass}>
                    it did
                  </Button>
                  <Button look="line" aria-label={`it did not: step ${number}`} onClick={() => fail(number)}>
                    it did not
                  </Button>
                </span>
              )}
            </li>
          )
        })}
      </ol>
      <p className="my-2 text-[12px] text-ink-2">With the steps in focus: p it did, f it did not, b back.</p>
      {outcome === null ? (
        <div className="flex gap-3">
          <Button look="line" onClick={() => setOutcome('passed')}>
            all of it did
          </Button>
          <Button look="line" onClick={() => setOutcome('blocked')}>
            it cannot be done
          </Button>
          <Button look="line" onClick={() => setOutcome('skipped')}>
            leave it out
          </Button>
        </div>
      ) : (
        <Finding row={row} plan={plan} environment={environment} outcome={outcome} step={failedAt} onBack={back} />
      )}
    </div>
  )
}

const ASKED: Record<Outcome, string> = {
  passed: 'Anything to say',
  failed: 'What you saw',
  blocked: 'Why it cannot be done',
  skipped: 'Why it is left out',
}

/** What was found, with words where something was not as expected; of a failure a defect may be logged at once. */
function Finding(props: {
  row: CaseDetail
  plan: PlanDetail
  environment: string
  outcome: Outcome
  step: number | null
  onBack: () => void
}) {
  const { row, plan, environment, outcome, step, onBack } = props
  const trail = usePaneTrail()
  const [send, { error, isLoading }] = useDoCaseMutation()
  const { register, handleSubmit, setValue, watch } = useForm({ defaultValues: { words: '', logsDefect: outcome === 'failed', item: '' } })
  const submit = handleSubmit(async ({ words, logsDefect, item }) => {
    const result = await send({
      project: plan.project,
      planId: plan.planId,
      number: row.number,
      environment,
      revision: row.revision,
      outcome,
      step,
      words,
      logsDefect: logsDefect && outcome === 'failed',
      item: !logsDefect && item.trim() !== '' ? item : null,
    })
    if (result.error) return
    const place = { number: row.number, environment }
    const logged = result.data.results.find((one) => one.number === row.number && one.environment === environment)?.item
    toast.success(logged ? `${outcome}; ${logged} is logged` : outcome)
    const next = nextOpen(result.data, place)
    if (next) trail.rename(runId(plan, next))
    else trail.close()
  })
  const wrong = (field: 'words' | 'item') => fieldProblem(error, field)
  return (
    <form aria-label="What was found" className="space-y-2" onSubmit={(event) => void submit(event)}>
      <p className="m-0">
        <b className={outcome === 'failed' ? 'text-fault' : ''}>{outcome}</b>
        {step !== null && ` at step ${step}`}{' '}
        <Button look="line" onClick={onBack}>
          not so
        </Button>
      </p>
      <PictureText
        label={ASKED[outcome]}
        wrong={wrong('words')}
        autoFocus
        project={plan.project}
        rows={3}
        maxLength={20_000}
        required={outcome !== 'passed'}
        value={watch('words')}
        onText={(words) => setValue('words', words)}
      />
      {outcome === 'failed' && (
        <>
          <label className="flex items-center gap-2">
            <input type="checkbox" {...register('logsDefect')} /> log it as a defect, with its steps
          </label>
          {!watch('logsDefect') && (
            <Field label="It is known as" error={wrong('item')}>
              <TextInput className="font-mono uppercase" placeholder="the key of an item" {...register('item')} />
            </Field>
          )}
        </>
      )}
      {!(wrong('words') ?? wrong('item')) && <Refusal error={error} />}
      <Button look="main" type="submit" disabled={isLoading}>
        Save it, and go on
      </Button>
    </form>
  )
}
