import { idFrom } from '@dystracer/core/text/id-from'
import type { RoutingRules } from '@dystracer/core/routing/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { useRemoveRoutingMutation, useRoutingQuery, useSetDutyMutation, useSetRoutingMutation } from './routing.api'
import { PRIORITY_CHOICES } from '#shared/lib/choices'
import { plural, splitWords } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePeople } from '#features/people/index'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead } from '#shared/ui/parts'

type Rule = RoutingRules['rows'][number]
const EMPTY = {
  name: '',
  components: '',
  paths: '',
  labels: '',
  words: '',
  component: '',
  ownerId: '',
  severity: '',
  priority: '',
  milestone: '',
  addLabels: '',
}

/** What new items get by rules, and who is on duty in the weeks to come. */
export function RoutingPane() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useRoutingQuery(project, { skip: project === '' })
  const [remove] = useRemoveRoutingMutation()
  const [setDuty] = useSetDutyMutation()
  const canEdit = may('routing.change')
  const people = (me?.people ?? []).filter((person) => person.role !== null && person.role !== 'reader')
  return (
    <Pane label="Routing and duty" title="Routing and duty">
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="space-y-4 px-4 py-3">
          {!canEdit && <p className="text-ochre">A lead changes these; you may read them.</p>}
          <section aria-label="On duty">
            <SectionHead>On duty</SectionHead>
            <p className="mb-1 text-[12px] text-ink-2">
              Decisions wait on their desk first, and they are proposed as owner where nothing speaks for another.
            </p>
            <ul className="m-0 grid list-none grid-cols-2 gap-x-6 p-0">
              {data.duty.map((week, index) => (
                <li
                  key={week.weekOn}
                  className={`flex items-center justify-between border-b border-edge-soft py-0.5 ${index === 0 ? 'font-bold' : ''}`}
                >
                  {index === 0 ? 'this week' : `from ${week.weekOn}`}
                  <Choose
                    aria-label={`On duty from ${week.weekOn}`}
                    className="w-[170px]! py-0.5!"
                    disabled={!canEdit}
                    none="nobody"
                    value={week.personId ?? ''}
                    choices={people.map((person) => ({ value: person.personId, label: person.name }))}
                    onChange={(event) =>
                      void setDuty({ project, weekOn: week.weekOn, personId: event.target.value || null }).then(tellRefusal)
                    }
                  />
                </li>
              ))}
            </ul>
          </section>
          <section aria-label="Routing rules">
            <SectionHead>Routing rules</SectionHead>
            <p className="mb-1 text-[12px] text-ink-2">They fill what nobody filled on a new item, in this order.</p>
            {data.rows.length === 0 && <p className="text-ink-3">None yet.</p>}
            <ol className="m-0 list-none p-0">
              {data.rows.map((rule) => (
                <li key={rule.ruleId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
                  <span className="min-w-0 flex-1">
                    <b>{rule.name}</b>
                    <span className="block text-[12px] text-ink-2">
                      {conditionText(rule)} → {setText(rule, (id) => people.find((person) => person.personId === id)?.name ?? id)}
                    </span>
                  </span>
                  <span className="text-[12px] text-ink-3">{plural(rule.used, 'time')}</span>
                  {canEdit && (
                    <Button
                      look="text"
                      aria-label={`Remove the rule ${rule.name}`}
                      onClick={() => void remove({ project, ruleId: rule.ruleId }).then(tellRefusal)}
                    >
                      remove
                    </Button>
                  )}
                </li>
              ))}
            </ol>
            {canEdit && <NewRule project={project} />}
          </section>
        </div>
      )}
    </Pane>
  )
}

function conditionText({ conditions }: Rule): string {
  return [
    conditions.components.length > 0 && `component ${conditions.components.join(' or ')}`,
    conditions.paths.length > 0 && `code below ${conditions.paths.join(' or ')}`,
    conditions.labels.length > 0 && `label ${conditions.labels.join(' or ')}`,
    conditions.words.length > 0 && `says ${conditions.words.map((word) => `“${word}”`).join(' or ')}`,
  ]
    .filter(Boolean)
    .join(' and ')
}

function setText({ sets }: Rule, nameOf: (personId: string) => string): string {
  return [
    sets.component && `component ${sets.component}`,
    sets.ownerId && `owner ${nameOf(sets.ownerId)}`,
    sets.severity && `severity ${sets.severity}`,
    sets.priority && `priority ${sets.priority}`,
    sets.milestone && `milestone ${sets.milestone}`,
    sets.labels.length > 0 && `label ${sets.labels.join(', ')}`,
  ]
    .filter(Boolean)
    .join(', ')
}

function NewRule({ project }: { project: string }) {
  const { me } = usePeople()
  const [save] = useSetRoutingMutation()
  const { register, handleSubmit, watch, reset } = useForm({ defaultValues: EMPTY })
  const add = handleSubmit(async (draft) => {
    const rule = {
      ruleId: idFrom(draft.name, 40),
      name: draft.name.trim(),
      conditions: {
        components: splitWords(draft.components),
        paths: splitWords(draft.paths),
        labels: splitWords(draft.labels),
        words: splitWords(draft.words),
      },
      sets: {
        component: draft.component || null,
        ownerId: draft.ownerId || null,
        severity: draft.severity ? Number(draft.severity) : null,
        priority: (draft.priority || null) as Rule['sets']['priority'],
        milestone: draft.milestone || null,
        labels: splitWords(draft.addLabels),
      },
    }
    const result = await save({ project, rule })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`The rule ${rule.name} is there`)
    reset()
  })
  const text = (field: keyof typeof EMPTY, label: string, placeholder = '') => (
    <Field label={label}>
      <TextInput placeholder={placeholder} maxLength={200} {...register(field)} />
    </Field>
  )
  return (
    <form aria-label="New rule" className="mt-2 space-y-2 border-t border-edge pt-2" onSubmit={(event) => void add(event)}>
      {text('name', 'New rule')}
      <div className="grid grid-cols-4 gap-2">
        <Field label="If the component is">
          <Choose none="any" choices={(me?.components ?? []).map((name) => ({ value: name, label: name }))} {...register('components')} />
        </Field>
        {text('paths', 'and its code is below', 'src/payment')}
        {text('labels', 'and it has the label')}
        {text('words', 'and it says', 'door, door card')}
      </div>
      <div className="grid grid-cols-3 gap-2">
        <Field label="Set component">
          <Choose none="–" choices={(me?.components ?? []).map((name) => ({ value: name, label: name }))} {...register('component')} />
        </Field>
        <Field label="owner">
          <Choose
            none="–"
            choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
            {...register('ownerId')}
          />
        </Field>
        <Field label="severity">
          <Choose none="–" choices={['1', '2', '3', '4', '5'].map((value) => ({ value, label: value }))} {...register('severity')} />
        </Field>
        <Field label="priority">
          <Choose none="–" choices={PRIORITY_CHOICES} {...register('priority')} />
        </Field>
        <Field label="milestone">
          <Choose none="–" choices={(me?.milestones ?? []).map((name) => ({ value: name, label: name }))} {...register('milestone')} />
        </Field>
        {text('addLabels', 'labels')}
      </div>
      <Button type="submit" disabled={idFrom(watch('name')) === ''}>
        Add the rule
      </Button>
    </form>
  )
}
