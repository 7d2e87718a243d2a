import { FIELD_USES, fieldUseOf } from '@dystracer/core/setup/field-use'
import { ITEM_FIELDS, TYPE_FIELDS } from '@dystracer/core/setup/item-fields'
import { STANDARD_TYPES, type ItemTypeDefinition } from '@dystracer/core/setup/item-type'
import { STAGES } from '@dystracer/core/ladder/ladder'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toChoices } from '#shared/lib/choices'
import { usePeople } from '#features/people/index'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { splitWords } from '#shared/lib/format'
import { Button, SectionHead } from '#shared/ui/parts'
import type { Part } from './part'

const FIELD_NAME: Record<string, string> = Object.fromEntries(
  Object.values(ITEM_FIELDS).flatMap(({ use, label }) => (use ? [[use.name, label]] : [])),
)

/** The types of items, the standard ones and the project's own, each with its fields and its template. */
export function Types({ setup, ...part }: Part) {
  const [chosen, setChosen] = useState(setup.types[0]?.type ?? '')
  const { register, handleSubmit, watch, reset } = useForm({ defaultValues: { name: '' } })
  const add = handleSubmit(async (draft) => {
    const name = draft.name.trim()
    if (!(await part.save('defineType', { type: name, position: setup.types.length }, `The type ${name} is there`))) return
    setChosen(name)
    reset()
  })
  const definition = setup.types.find((type) => type.type === chosen)
  return (
    <section aria-label="Types">
      <SectionHead>Types</SectionHead>
      <div className="mb-2 flex flex-wrap items-end gap-2">
        <Field label="Type">
          <Choose
            value={chosen}
            onChange={(event) => setChosen(event.target.value)}
            choices={toChoices(setup.types.map((type) => type.type))}
          />
        </Field>
        {part.canEdit && (
          <form className="flex items-end gap-2" onSubmit={(event) => void add(event)}>
            <Field label="New type">
              <TextInput maxLength={30} placeholder="question" {...register('name')} />
            </Field>
            <Button type="submit" disabled={watch('name').trim() === ''}>
              Add
            </Button>
          </form>
        )}
      </div>
      {definition && <TypeForm key={definition.type} definition={definition} setup={setup} {...part} />}
    </section>
  )
}

function TypeForm({ definition, setup, canEdit, save, remove }: Part & { definition: ItemTypeDefinition }) {
  const { register, handleSubmit, setValue, watch } = useForm<ItemTypeDefinition>({ defaultValues: definition })
  const draft = watch()
  const isStandard = STANDARD_TYPES.some((standard) => standard.type === definition.type)
  const { me } = usePeople()
  const names = [...TYPE_FIELDS, ...setup.ownFields.map((field) => `own:${field.fieldId}`)]
  const labelOf = (field: string) => setup.ownFields.find((own) => `own:${own.fieldId}` === field)?.name ?? FIELD_NAME[field] ?? field
  const template = (change: Partial<ItemTypeDefinition['template']>) => setValue('template', { ...draft.template, ...change })
  return (
    <form
      aria-label={`Type ${definition.type}`}
      onSubmit={(event) => void handleSubmit((type) => save('defineType', type, `${type.type} is saved`))(event)}
    >
      <fieldset disabled={!canEdit} className="m-0 border-0 p-0">
        <label className="flex items-center gap-2">
          <input type="checkbox" {...register('isDefect')} /> is about something broken
        </label>
        <div className="my-1 grid grid-cols-3 gap-x-3 gap-y-1">
          {names.map((field) => (
            <div key={field} className="flex items-center justify-between gap-2 text-[12px]">
              {labelOf(field)}
              <Choose
                aria-label={`${labelOf(field)} of ${draft.type}`}
                className="w-[92px]! py-0.5!"
                value={fieldUseOf(draft, field)}
                choices={toChoices(FIELD_USES)}
                onChange={(event) => setValue('fields', { ...draft.fields, [field]: event.target.value as (typeof FIELD_USES)[number] })}
              />
            </div>
          ))}
        </div>
        <Field label="Template: what a new one begins with">
          <TextArea rows={5} {...register('template.description')} />
        </Field>
        <div className="mt-1 grid grid-cols-3 gap-3">
          <Field label="Labels it begins with">
            <TextInput
              defaultValue={draft.template.labels.join(', ')}
              onBlur={(event) =>
                template({
                  labels: splitWords(event.target.value),
                })
              }
            />
          </Field>
          <Field label="Component">
            <Choose
              none="none"
              value={draft.template.component ?? ''}
              onChange={(event) => template({ component: event.target.value || null })}
              choices={toChoices(me?.components ?? [])}
            />
          </Field>
          <Field label="Owner">
            <Choose
              none="nobody"
              value={draft.template.ownerId ?? ''}
              onChange={(event) => template({ ownerId: event.target.value || null })}
              choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
            />
          </Field>
        </div>
        {canEdit && (
          <div className="mt-2 flex gap-2">
            <Button look="main" type="submit">
              Save {draft.type}
            </Button>
            <Button
              onClick={() => void remove('types', draft.type, isStandard ? `${draft.type} is as it comes` : `${draft.type} is removed`)}
            >
              {isStandard ? 'Put back as it comes' : `Remove ${draft.type}`}
            </Button>
          </div>
        )}
      </fieldset>
    </form>
  )
}

/** Which fields an item must have before it may pass a stage. */
export function StageRules({ setup, canEdit, save }: Part) {
  const stages = STAGES.filter((stage) => ['accepted', 'underway', 'verified'].includes(stage))
  return (
    <section aria-label="What a stage needs">
      <SectionHead>What a stage needs</SectionHead>
      {stages.map((stage) => {
        const needs = setup.stageRules.find((rule) => rule.stage === stage)?.needs ?? []
        return (
          <fieldset key={stage} aria-label={`${stage} needs`} className="m-0 mb-1 flex flex-wrap gap-x-3 border-0 p-0 text-[12px]">
            <b className="w-[70px] capitalize">{stage}</b>
            {['owner', 'component', 'severity', 'milestone', 'requirement', 'priority', 'estimate', 'due'].map((field) => (
              <label key={field} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  disabled={!canEdit}
                  checked={needs.includes(field)}
                  onChange={(event) =>
                    void save(
                      'setStageRule',
                      { stage, needs: event.target.checked ? [...needs, field] : needs.filter((other) => other !== field) },
                      `${stage}: saved`,
                    )
                  }
                />
                {field}
              </label>
            ))}
          </fieldset>
        )
      })}
    </section>
  )
}
