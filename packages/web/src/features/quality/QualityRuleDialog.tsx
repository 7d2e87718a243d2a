import type { FilterVocabulary } from '@dystracer/core/filter/filter'
import { QUALITY_VOCABULARIES, type QualityRule, type QualitySubject } from '@dystracer/core/quality/quality-rule'
import type { QualityTrial } from '@dystracer/core/quality/wire'
import { useState } from 'react'
import { Controller, type UseFormReturn, useForm } from 'react-hook-form'
import { useKnownRepositories } from '#features/code/index'
import { FilterBar } from '#features/looking/index'
import { ToldPeople, usePeople } from '#features/people/index'
import { useSetupQuery } from '#features/setup/setup.api'
import { SEVERITIES, toChoices } from '#shared/lib/choices'
import { plural, splitWords } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Button, Refusal, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { WordChoice, WordInput } from '#shared/ui/Words'
import { useTryQualityRuleMutation } from './quality.api'
import { ABOUT_WORDS, EXAMPLES } from './rule-words'

const ABOUT = Object.entries(ABOUT_WORDS).map(([value, label]) => ({ value, label }))
const ACTS = [
  { value: 'log', label: 'log a' },
  { value: 'nothing', label: 'do nothing, and ask no rule below' },
]
const WHERE_TO = [
  { value: 'no', label: 'into Triage' },
  { value: 'yes', label: 'taken at once' },
]
const TRY_DAYS = 30

interface RuleForm {
  name: string
  about: QualitySubject
  where: string
  act: QualityRule['act']
  type: string
  severity: '' | '1' | '2' | '3' | '4' | '5'
  ownerId: string
  labels: string
  milestone: string
  component: string
  isAccepted: 'no' | 'yes'
  tellIds: string[]
  perDay: string
}

/** A rule as a form of words, with what it would have done; kept, or kept as a draft. */
export function QualityRuleDialog({
  project,
  rule,
  onKeep,
  onClose,
}: {
  project: string
  rule: QualityRule
  /** Gives why it was refused; nothing where it was kept. */
  onKeep: (rule: QualityRule) => Promise<unknown>
  onClose: () => void
}) {
  const form = useForm<RuleForm>({ defaultValues: toForm(rule) })
  const [refused, setRefused] = useState<unknown>()
  const [tryIt, trial] = useTryQualityRuleMutation()
  const filled = (isDraft: boolean) => ({ ...rule, ...toRule(form.getValues()), isDraft })
  const keep = (isDraft: boolean) =>
    form.handleSubmit(async () => {
      const error = await onKeep(filled(isDraft))
      setRefused(error)
      if (!error) onClose()
    })
  const title = rule.ruleId === '' ? 'A new rule' : rule.name
  return (
    <Dialog title={title} isOpen onClose={onClose}>
      <form aria-label={title} className="px-4 py-3" onSubmit={(event) => void keep(false)(event)}>
        <RuleSentence form={form} project={project} />
        <Refusal error={refused} className="mt-2" />
        <p className="mt-3 mb-0 flex gap-2">
          <Button look="main" type="submit">
            Keep it
          </Button>
          <Button onClick={() => void keep(true)()}>Keep it as a draft</Button>
          <Button
            disabled={trial.isLoading}
            onClick={() =>
              void tryIt({
                project,
                rule: { ...filled(false), ruleId: rule.ruleId || 'new', name: form.getValues('name') || 'new' },
                days: TRY_DAYS,
              })
            }
          >
            Try it on {TRY_DAYS} days
          </Button>
        </p>
        {trial.error && <p className="m-0 mt-2 text-fault">{problemText(trial.error)}</p>}
        {trial.isLoading && (
          <p role="status" className="m-0 mt-2 text-ink-2">
            Going through what came …
          </p>
        )}
        {trial.data && !trial.isLoading && <Trial trial={trial.data} />}
      </form>
    </Dialog>
  )
}

function RuleSentence({ form, project }: { form: UseFormReturn<RuleForm>; project: string }) {
  const { me } = usePeople()
  const { data: setup } = useSetupQuery(project)
  const known = useKnownRepositories()
  const { register, control, watch } = form
  const [about, act] = [watch('about'), watch('act')]
  return (
    <fieldset className="m-0 min-w-0 space-y-1 border-0 p-0 text-[14px] leading-[30px]">
      <legend className="sr-only">The rule</legend>
      <p className="m-0">
        <WordInput label="Name" placeholder="what it is called" maxLength={60} {...register('name', { required: true })} />:
      </p>
      <p className="m-0">
        For <WordChoice label="What it is about" choices={ABOUT} {...register('about')} />
      </p>
      <Controller
        control={control}
        name="where"
        render={({ field }) => (
          <div className="flex items-baseline gap-1">
            <span className="text-ink-2">where</span>
            <div className="min-w-0 flex-1 border-b border-proof">
              <FilterBar
                key={about}
                label="Condition"
                placeholder={EXAMPLES[about]}
                filter={field.value}
                onFilter={field.onChange}
                about={{
                  words: QUALITY_VOCABULARIES[about] as FilterVocabulary,
                  known: { ...known, level: ['error', 'warning', 'note', 'none'] },
                }}
              />
            </div>
          </div>
        )}
      />
      <p className="m-0 pt-1">
        <WordChoice label="What is done" choices={ACTS} {...register('act')} />
        {act === 'log' && (
          <>
            {' '}
            <WordChoice
              label="Type"
              choices={toChoices(setup?.types.map(({ type }) => type) ?? [form.getValues('type')])}
              {...register('type')}
            />{' '}
            for{' '}
            <WordChoice
              label="Owner"
              none="whom routing finds"
              choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
              {...register('ownerId')}
            />{' '}
            <WordChoice label="Where it goes" choices={WHERE_TO} {...register('isAccepted')} />, severity{' '}
            <WordChoice label="Severity" choices={SEVERITIES} none="left to people" {...register('severity')} />, milestone{' '}
            <WordChoice
              label="Milestone"
              none="none"
              choices={toChoices(setup?.milestones.filter((each) => !each.isClosed).map(({ name }) => name) ?? [])}
              {...register('milestone')}
            />
            , component{' '}
            <WordChoice
              label="Component"
              none="that of the repository"
              choices={toChoices(setup?.components.map(({ name }) => name) ?? [])}
              {...register('component')}
            />
            , labels <WordInput label="Labels" placeholder="none" maxLength={400} {...register('labels')} />,
          </>
        )}
      </p>
      {act === 'log' && (
        <>
          <p className="m-0">
            at most{' '}
            <WordInput
              label="Items a day"
              inputMode="numeric"
              placeholder="any number of"
              size={4}
              {...register('perDay', { pattern: /^\d*$/ })}
            />{' '}
            a day, the rest goes into one;
          </p>
          <Controller
            control={control}
            name="tellIds"
            render={({ field }) => <ToldPeople ids={field.value} onChange={field.onChange} begin="and tell" none="nobody" />}
          />
        </>
      )}
    </fieldset>
  )
}

/** What the rule would have done, the newest first, with what became of each. */
function Trial({ trial: { days, looked, fired, standing, rows, isCut } }: { trial: QualityTrial }) {
  return (
    <section aria-label="What it would have done" role="status" className="mt-3 border-t border-edge pt-2">
      <p className="m-0">
        In {days} days it would have taken <b>{fired}</b> of {looked}
        {isCut && ' and more'} that came; the rules as they hold log {standing} of these.
      </p>
      <ul className="m-0 max-h-[180px] list-none overflow-y-auto p-0 text-[12px]">
        {rows.map((row) => (
          <li key={`${row.place} ${row.what}`} className="flex gap-3 border-b border-edge-soft leading-6">
            <span className="min-w-0 flex-1 truncate" title={row.what}>
              {row.what}
            </span>
            {row.key !== null && <ThingLink to={{ kind: 'item', id: row.key }} />}
            <span className="w-[70px] shrink-0 text-ink-2">{row.judgement ?? ''}</span>
            <span className="shrink-0 text-ink-3">
              <When atMs={row.atMs} />
            </span>
          </li>
        ))}
      </ul>
      {fired > rows.length && <p className="m-0 text-[12px] text-ink-3">{plural(fired - rows.length, 'more')} not listed.</p>}
    </section>
  )
}

function toForm(rule: QualityRule): RuleForm {
  return {
    name: rule.name,
    about: rule.about,
    where: rule.where,
    act: rule.act,
    type: rule.type,
    severity: rule.severity === null ? '' : (String(rule.severity) as RuleForm['severity']),
    ownerId: rule.ownerId ?? '',
    labels: rule.labels.join(', '),
    milestone: rule.milestone ?? '',
    component: rule.component ?? '',
    isAccepted: rule.isAccepted ? 'yes' : 'no',
    tellIds: [...rule.tellIds],
    perDay: rule.perDay === null ? '' : String(rule.perDay),
  }
}

/** What the words hold, as a rule: the reverse of `toForm`. */
function toRule(form: RuleForm): Omit<QualityRule, 'ruleId' | 'isDraft'> {
  return {
    name: form.name.trim(),
    about: form.about,
    where: form.where.trim(),
    act: form.act,
    type: form.type,
    severity: form.severity === '' ? null : (Number(form.severity) as 1 | 2 | 3 | 4 | 5),
    ownerId: form.ownerId || null,
    labels: splitWords(form.labels),
    milestone: form.milestone || null,
    component: form.component || null,
    isAccepted: form.isAccepted === 'yes',
    tellIds: form.tellIds,
    perDay: form.perDay === '' ? null : Number(form.perDay),
  }
}
