import { idFrom } from '@dystracer/core/text/id-from'
import { OWN_FIELD_KINDS } from '@dystracer/core/setup/field-use'
import { LABEL_COLOURS } from '@dystracer/core/setup/label-colour'
import { useForm } from 'react-hook-form'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { splitWords } from '#shared/lib/format'
import { Button, SectionHead } from '#shared/ui/parts'
import type { Part } from './part'

/** The project's own fields, in the order in which forms show them. */
export function OwnFields({ setup, canEdit, save, remove }: Part) {
  const { register, handleSubmit, watch, setValue } = useForm<{ name: string; kind: (typeof OWN_FIELD_KINDS)[number]; choices: string }>({
    defaultValues: { name: '', kind: 'text', choices: '' },
  })
  const add = handleSubmit(async ({ name, kind, choices }) => {
    const body = {
      fieldId: idFrom(name),
      name: name.trim(),
      kind,
      choices: hasChoices(kind) ? splitWords(choices) : [],
      position: setup.ownFields.length,
    }
    if (await save('defineOwnField', body, `The field ${name.trim()} is there`)) setValue('name', '')
  })
  const move = (index: number, by: number) => {
    const fieldIds = setup.ownFields.map((field) => field.fieldId)
    const [moved] = fieldIds.splice(index, 1)
    if (moved) fieldIds.splice(index + by, 0, moved)
    return save('orderOwnFields', { fieldIds }, 'The order is saved')
  }
  return (
    <section aria-label="Own fields">
      <SectionHead>Own fields</SectionHead>
      {setup.ownFields.length === 0 && <p className="text-ink-3">None yet.</p>}
      <ol className="m-0 list-none p-0">
        {setup.ownFields.map((field, index) => (
          <li key={field.fieldId} className="flex items-center gap-2 border-b border-edge-soft py-0.5">
            <span className="min-w-0 flex-1 truncate">
              <b className="border-b-2" style={{ borderColor: field.colour ?? 'transparent' }}>
                {field.name}
              </b>{' '}
              <span className="text-ink-2">{field.kind.replace('-', ' ')}</span> {field.choices.join(', ')}
            </span>
            {canEdit && (
              <>
                <Choose
                  aria-label={`Colour of ${field.name}`}
                  className="w-[84px]! py-0.5!"
                  none="no colour"
                  value={field.colour ?? ''}
                  choices={Object.entries(LABEL_COLOURS).map(([label, value]) => ({ value, label }))}
                  onChange={(event) =>
                    void save('defineOwnField', { ...field, colour: event.target.value || null }, `${field.name} is saved`)
                  }
                />
                <Button aria-label={`Move ${field.name} up`} disabled={index === 0} onClick={() => void move(index, -1)}>
                  ↑
                </Button>
                <Button
                  aria-label={`Move ${field.name} down`}
                  disabled={index === setup.ownFields.length - 1}
                  onClick={() => void move(index, 1)}
                >
                  ↓
                </Button>
                <Button
                  aria-label={`Remove the field ${field.name}`}
                  onClick={() => void remove('fields', field.fieldId, `${field.name} is off the forms`)}
                >
                  Remove
                </Button>
              </>
            )}
          </li>
        ))}
      </ol>
      {canEdit && (
        <form aria-label="New field" className="mt-1 flex flex-wrap items-end gap-2" onSubmit={(event) => void add(event)}>
          <Field label="Name">
            <TextInput maxLength={60} {...register('name')} />
          </Field>
          <Field label="Kind">
            <Choose {...register('kind')} choices={OWN_FIELD_KINDS.map((value) => ({ value, label: value.replace('-', ' ') }))} />
          </Field>
          {hasChoices(watch('kind')) && (
            <Field label="Values, with commas">
              <TextInput {...register('choices')} />
            </Field>
          )}
          <Button type="submit" disabled={idFrom(watch('name')) === ''}>
            Add the field
          </Button>
        </form>
      )}
    </section>
  )
}

function hasChoices(kind: (typeof OWN_FIELD_KINDS)[number]): boolean {
  return kind === 'one-of' || kind === 'several-of'
}
