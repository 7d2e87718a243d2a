import { OWN_FIELD_KINDS } from '@dystracer/core/setup/field-use'
import { LABEL_COLOURS } from '@dystracer/core/setup/label-colour'
import { useState } from 'react'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import { splitWords, type Part } from './part'

/** The project's own fields, in the order in which forms show them. */
export function OwnFields({ setup, canEdit, save, remove }: Part) {
  const [name, setName] = useState('')
  const [kind, setKind] = useState<(typeof OWN_FIELD_KINDS)[number]>('text')
  const [choices, setChoices] = useState('')
  const fieldId = name
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  const move = (index: number, by: number) => {
    const fieldIds = setup.ownFields.map((field) => field.fieldId)
    const [moved] = fieldIds.splice(index, 1)
    if (moved) fieldIds.splice(index + by, 0, moved)
    return save('orderOwnFields', { fieldIds }, 'The order is saved')
  }
  const hasChoices = kind === 'one-of' || kind === 'several-of'
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
        <form
          aria-label="New field"
          className="mt-1 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            const body = {
              fieldId,
              name: name.trim(),
              kind,
              choices: hasChoices ? splitWords(choices) : [],
              position: setup.ownFields.length,
            }
            void save('defineOwnField', body, `The field ${name.trim()} is there`).then((isSaved) => {
              if (isSaved) setName('')
            })
          }}
        >
          <Field label="Name">
            <TextInput value={name} maxLength={60} onChange={(event) => setName(event.target.value)} />
          </Field>
          <Field label="Kind">
            <Choose
              value={kind}
              onChange={(event) => setKind(event.target.value)}
              choices={OWN_FIELD_KINDS.map((value) => ({ value, label: value.replace('-', ' ') }))}
            />
          </Field>
          {hasChoices && (
            <Field label="Values, with commas">
              <TextInput value={choices} onChange={(event) => setChoices(event.target.value)} />
            </Field>
          )}
          <Button type="submit" disabled={fieldId === ''}>
            Add the field
          </Button>
        </form>
      )}
    </section>
  )
}
