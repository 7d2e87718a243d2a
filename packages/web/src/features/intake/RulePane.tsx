import { useEffect } from 'react'
import { useForm, type UseFormReturn } from 'react-hook-form'
import { toast } from 'sonner'
import type { IntakeRuleInput, IntakeRuleRow, RuleRecord } from '@dystracer/core/faults/intake-wire'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Refusal } from '#shared/ui/parts'
import { useIntakeRuleQuery, useIntakeRulesQuery, useSetIntakeRuleMutation } from './intake.api'
import { freeId, NEW_RULE, type RuleForm, toForm, toRule } from './rule-form'
import { RuleRecordPart } from './RuleRecordPart'
import { RuleSentence } from './RuleSentence'
import { useTrial } from './use-trial'

const TRIAL_DAYS = 30
/** In the place of an id: a rule that is not there yet. */
export const NEW_ID = 'new'

/** One intake rule: the sentence that it is, what it did so far, and the way to try it before it holds. Its id is `PROJECT/rule`. */
export function RulePane({ id }: { id: string }) {
  const slash = id.indexOf('/')
  const [project, ruleId] = [id.slice(0, slash), id.slice(slash + 1)]
  const isNew = ruleId === NEW_ID
  const { data, error, isLoading } = useIntakeRuleQuery({ project, ruleId }, { skip: isNew })
  if (!isNew && !data)
    return (
      <Pane label="Intake rule" title="Intake rule">
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return <Editor key={id} project={project} ruleId={isNew ? null : ruleId} record={data} />
}

function useRules(project: string) {
  const { data } = useIntakeRulesQuery(project)
  return data?.rows ?? []
}

function Editor({ project, ruleId, record }: { project: string; ruleId: string | null; record: RuleRecord | undefined }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const rules = useRules(project)
  const canEdit = may('intake-rules.change')
  const standing = record?.rule
  const form = useForm<RuleForm>({ defaultValues: toForm(standing ? inputOf(standing) : NEW_RULE) })
  const [save, saving] = useSetIntakeRuleMutation()
  const trial = useTrial()
  const { isDirty } = form.formState
  useFollow(form, standing)
  const hold = (isDraft: boolean) =>
    form.handleSubmit(async (values) => {
      const id = ruleId ?? freeId(values.name, [NEW_ID, ...rules.map((rule) => rule.ruleId)])
      const result = await save({ project, ruleId: id, body: toRule(values, isDraft) })
      if (result.error) return
      form.reset(values)
      toast.success(isDraft ? `${values.name.trim()} is kept as a draft; it does nothing` : `${values.name.trim()} holds for what comes`)
      if (ruleId === null) trail.rename(`${project}/${id}`)
    })
  const runTrial = () => {
    const values = form.getValues()
    trial.begin({
      project,
      body: { ...toRule({ ...values, name: values.name.trim() || 'trial' }, false), ruleId, days: TRIAL_DAYS },
    })
    trail.open({ kind: 'trial', id: `${project}/${ruleId ?? NEW_ID}` })
  }
  const wrong = saving.error ?? trial.error
  const place = rules.findIndex((rule) => rule.ruleId === ruleId)
  const hasFieldProblem = Object.keys((wrong as { fields?: object } | undefined)?.fields ?? {}).length > 0
  return (
    <Pane
      label="Intake rule"
      title={
        <>
          {standing?.name ?? 'A new rule'}{' '}
          {place >= 0 && (
            <span className="text-[13px] font-normal text-ink-2">
              {place + 1} of {rules.length}
            </span>
          )}
        </>
      }
      aside={
        standing && (standing.isDraft ? <span className="text-ochre">draft, does nothing</span> : <span className="text-proof">holds</span>)
      }
      onKeys={(event) => {
        if (event.key !== 't' || event.ctrlKey || event.metaKey || event.altKey || !canEdit) return
        event.preventDefault()
        runTrial()
      }}
      foot={
        canEdit && (
          <div className="flex flex-wrap items-center gap-3">
            <Button look="main" disabled={saving.isLoading || (!isDirty && standing?.isDraft === false)} onClick={() => void hold(false)()}>
              Let it hold
            </Button>
            {trial.isLoading ? (
              <Button look="text" onClick={() => trial.stop()}>
                Stop trying
              </Button>
            ) : (
              <Button look="text" onClick={runTrial}>
                Try it on {TRIAL_DAYS} days
              </Button>
            )}
            <Button look="text" disabled={saving.isLoading || (!isDirty && standing?.isDraft === true)} onClick={() => void hold(true)()}>
              {standing?.isDraft === false ? 'Make it a draft' : 'Keep as a draft'}
            </Button>
            {isDirty && standing && (
              <Button look="text" onClick={() => form.reset(toForm(inputOf(standing)))}>
                Back to what {standing.isDraft ? 'is kept' : 'holds'}
              </Button>
            )}
          </div>
        )
      }
    >
      <form aria-label="Intake rule" className="px-4 py-3" onSubmit={(event) => event.preventDefault()}>
        <RuleSentence form={form} project={project} error={wrong} canEdit={canEdit} />
        {!hasFieldProblem && <Refusal error={wrong} />}
        {form.formState.isSubmitted && !form.formState.isValid && (
          <p role="alert" className="text-fault">
            {form.formState.errors.name ? 'It needs a name.' : 'A number in it is not possible.'}
          </p>
        )}
      </form>
      {standing?.warnings.map((warning) => (
        <p key={warning} className="border-t border-edge-soft bg-ochre-soft px-4 py-1.5">
          {warning}
        </p>
      ))}
      {record && (
        <RuleRecordPart
          record={record}
          onAsk={
            canEdit
              ? ({ name, atLeast }) => {
                  form.setValue(name, atLeast, { shouldDirty: true })
                  runTrial()
                }
              : null
          }
        />
      )}
    </Pane>
  )
}

/** Takes over what somebody else changed, as long as nothing is being written here. */
function useFollow(form: UseFormReturn<RuleForm>, standing: IntakeRuleRow | undefined) {
  const text = standing && JSON.stringify(toForm(inputOf(standing)))
  useEffect(() => {
    if (text !== undefined && !form.formState.isDirty) form.reset(JSON.parse(text) as RuleForm)
  }, [text, form])
}

/** The rule alone, without what it did. */
export function inputOf({
  ruleId: _id,
  fired: _fired,
  lastFiredAtMs: _last,
  week: _week,
  warnings: _warnings,
  ...rule
}: IntakeRuleRow): IntakeRuleInput {
  return rule
}
