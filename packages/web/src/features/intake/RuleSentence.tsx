import { INCIDENT_SEVERITY } from '@dystracer/core/faults/intake-rule'
import { TEXT_PARTS } from '@dystracer/core/faults/item-text'
import { TextArea } from '#shared/ui/fields'
import { WordChoice, WordInput } from '#shared/ui/Words'
import { SEVERITY_LEVELS } from '@dystracer/core/basics/severity-levels'
import { FAULT_VOCABULARY } from '@dystracer/core/faults/fault-filter'
import { useId, useMemo, type ReactNode } from 'react'
import { Controller, type UseFormReturn, useWatch } from 'react-hook-form'
import { useServicesQuery } from '#features/faults/faults.api'
import { FilterBar } from '#features/looking/index'
import { ToldPeople, usePeople } from '#features/people/index'
import { useReleasesQuery } from '#features/releases/releases.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { SEVERITIES, toChoices } from '#shared/lib/choices'
import { fieldProblem } from '#shared/lib/problem-text'
import { A_BUDGET, WINDOW_UNITS, type RuleForm } from './rule-form'

const ENVIRONMENTS = [
  { value: 'production', label: 'production' },
  { value: 'any', label: 'any environment' },
]
const LEVELS = Object.keys(SEVERITY_LEVELS).map((value) => ({ value, label: `${value} or worse` }))
const ACTS = [
  { value: 'log', label: 'log' },
  { value: 'reopen', label: 'open the settled item again that stood for it' },
  { value: 'remark', label: 'remark on the item that stands for it' },
  { value: 'raise', label: 'raise the item that stands for it' },
  { value: 'silence', label: 'silence it' },
  { value: 'tell', label: 'tell people of its item' },
  { value: 'incident', label: 'open an incident' },
]
const WHERE_TO = [
  { value: 'no', label: 'into Triage' },
  { value: 'yes', label: 'taken at once' },
]
const SAID = [
  { value: 'all', label: 'all that is known of the fault' },
  { value: 'own', label: 'a text of its own' },
]
const ALIKE = [
  { value: 'no', label: 'always an item of its own' },
  { value: 'yes', label: 'tied to an open one at the same place of the code' },
]
const GOES_ON = [
  { value: 'no', label: 'no other rule is' },
  { value: 'yes', label: 'the rules below are, too,' },
]

type Given = { form: UseFormReturn<RuleForm>; project: string; error: unknown; canEdit: boolean }

/** A rule as the sentence that it is; its words are the controls. */
export function RuleSentence({ form, project, error, canEdit }: Given) {
  const { register, control } = form
  const act = useWatch({ control, name: 'act' })
  const mine = (name: string) => <FieldProblem error={error} name={name} />
  return (
    <fieldset disabled={!canEdit} className="m-0 min-w-0 space-y-1 border-0 p-0 text-[14px] leading-[30px]">
      <legend className="sr-only">The rule</legend>
      <p>
        <WordInput label="Name" placeholder="what it is called" maxLength={60} {...register('name', { required: true })} />:
      </p>
      {mine('name')}
      <p>
        When a fault in <WordChoice label="Environment" choices={ENVIRONMENTS} {...register('environmentKind')} />, at{' '}
        <WordChoice label="At least as bad as" choices={LEVELS} {...register('severityAtLeast')} />,
      </p>
      <p>
        occurs <WordNumber form={form} name="countAtLeast" label="At least so many times" max={1000} /> times within{' '}
        <WordNumber form={form} name="windowCount" label="within so long" max={43_200} />{' '}
        <WordChoice label="Unit of the while" choices={WINDOW_UNITS} {...register('windowUnit')} />
      </p>
      {mine('countAtLeast')}
      {mine('windowMinutes')}
      <p>
        and hits at least <WordNumber form={form} name="peopleAtLeast" label="At least so many people" max={100_000} min={0} /> people,
      </p>
      <Where form={form} />
      {mine('where')}
      <p className="pt-2">
        <WordChoice label="What is done" choices={ACTS} {...register('act')} />{' '}
        {act === 'log' && <LoggedAs form={form} project={project} />}
        {act === 'remark' && <WordInput label="The remark" placeholder="which words?" maxLength={2000} size={50} {...register('remark')} />}
        {act === 'raise' && (
          <>
            to severity <WordChoice label="Severity" choices={SEVERITIES} none="which?" {...register('severity')} />,
          </>
        )}
        {act === 'incident' && (
          <>
            of severity <WordChoice label="Severity" choices={SEVERITIES} none={String(INCIDENT_SEVERITY)} {...register('severity')} />;
            where one of its service is open in the same place, it is noted there,
          </>
        )}
      </p>
      {mine('deed.remark')}
      {mine('deed.type')}
      {mine('deed.severity')}
      {mine('deed.component')}
      {mine('deed.milestone')}
      {(act === 'log' || act === 'tell') && <Told form={form} isPart={act === 'log'} />}
      {mine('deed.tellIds')}
      {act === 'log' && (
        <>
          <Said form={form} />
          {mine('deed.text')}
          <p className="pt-2">
            but at most <WordInput label="Items an hour" {...A_BUDGET} {...register('perHour')} /> items an hour and{' '}
            <WordInput label="Items a day" {...A_BUDGET} {...register('perDay')} /> a day; the rest goes into one item.
          </p>
          {mine('perHour')}
          {mine('perDay')}
        </>
      )}
      <p>
        After it, <WordChoice label="What comes after it" choices={GOES_ON} {...register('goesOn')} /> asked.
      </p>
    </fieldset>
  )
}

/** What the item says: all that is known, or a text of the rule's own with room for some of it. */
function Said({ form }: Pick<Given, 'form'>) {
  const says = useWatch({ control: form.control, name: 'says' })
  const hintId = useId()
  return (
    <div className="pt-2">
      <p>
        It says <WordChoice label="What the item says" choices={SAID} {...form.register('says')} />
      </p>
      {says === 'own' && (
        <div className="max-w-xl space-y-1 pb-1 leading-normal">
          <TextArea
            rows={6}
            className="w-full text-[13px]"
            aria-label="Text of the item"
            aria-describedby={hintId}
            {...form.register('text')}
          />
          <p id={hintId} className="text-[12px] text-ink-3">
            Room for what is known: {TEXT_PARTS.map((part) => `{${part}}`).join(' ')}. {'{report}'} is all of it.
          </p>
        </div>
      )}
    </div>
  )
}

/** What is logged, and how: the part of the sentence that concerns the new item. */
function LoggedAs({ form, project }: Pick<Given, 'form' | 'project'>) {
  const { me } = usePeople()
  const { data: setup } = useSetupQuery(project)
  const { register } = form
  return (
    <>
      a{' '}
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
      <WordChoice label="Severity" choices={SEVERITIES} none="left to people" {...register('severity')} />, component{' '}
      <WordChoice
        label="Component"
        none="as the code says"
        choices={toChoices(setup?.components.map(({ name }) => name) ?? [])}
        {...register('component')}
      />
      , milestone{' '}
      <WordChoice
        label="Milestone"
        none="none"
        choices={toChoices(setup?.milestones.filter((each) => !each.isClosed).map(({ name }) => name) ?? [])}
        {...register('milestone')}
      />
      , labels <WordInput label="Labels" placeholder="none" maxLength={400} list="labels-of-the-project" {...register('labels')} />,{' '}
      <WordChoice label="Where an open one stands at the same place" choices={ALIKE} {...register('tiesAlike')} />
      <datalist id="labels-of-the-project">
        {setup?.labels.map(({ label }) => (
          <option key={label} value={label} />
        ))}
      </datalist>
    </>
  )
}

function Told({ form, isPart }: Pick<Given, 'form'> & { isPart: boolean }) {
  return (
    <Controller
      control={form.control}
      name="tellIds"
      render={({ field }) => (
        <ToldPeople
          ids={field.value}
          onChange={field.onChange}
          begin={isPart ? 'and tell' : 'namely'}
          none={isPart ? 'nobody else' : 'whom?'}
        />
      )}
    />
  )
}

/** The further conditions, in the grammar of filters, completed with what is known of services, releases and environments. */
function Where({ form }: Pick<Given, 'form'>) {
  const { data: services } = useServicesQuery()
  const { data: board } = useReleasesQuery()
  const known = useMemo(
    () => ({
      service: services?.rows.map((row) => row.service) ?? [],
      repository: [...new Set(services?.rows.flatMap((row) => (row.repository ? [row.repository] : [])) ?? [])],
      release: [...new Set(services?.rows.flatMap((row) => row.releases) ?? [])],
      environment: board?.environments.map((row) => row.environment) ?? [],
      day: ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'],
    }),
    [services, board],
  )
  return (
    <Controller
      control={form.control}
      name="where"
      render={({ field }) => (
        <div className="flex items-baseline gap-1">
          <span className="text-ink-2">and</span>
          <div className="min-w-0 flex-1 border-b border-proof">
            <FilterBar
              label="Further conditions"
              placeholder="anything, or such as: new path=src/web service!=tally release>=4.2 hour>=8"
              filter={field.value}
              onFilter={field.onChange}
              about={{ words: FAULT_VOCABULARY, known }}
            />
          </div>
        </div>
      )}
    />
  )
}

function WordNumber({
  form,
  name,
  label,
  max,
  min = 1,
}: Pick<Given, 'form'> & { name: 'countAtLeast' | 'windowCount' | 'peopleAtLeast'; label: string; max: number; min?: number }) {
  return (
    <WordInput
      label={label}
      type="number"
      min={min}
      max={max}
      required
      {...form.register(name, { valueAsNumber: true, required: true, min, max })}
    />
  )
}

function FieldProblem({ error, name }: { error: unknown; name: string }): ReactNode {
  const text = fieldProblem(error, name)
  return text ? (
    <p role="alert" className="text-[13px] leading-normal text-fault">
      {text}
    </p>
  ) : null
}
