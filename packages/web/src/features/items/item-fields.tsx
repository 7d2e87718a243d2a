import type { ProjectSetup } from '@dystracer/core/setup/wire'
import { fieldUseOf } from '@dystracer/core/setup/field-use'
import type { OwnField, OwnValue } from '@dystracer/core/setup/own-field'
import { toChoices } from '#shared/lib/choices'
import { Choose, TextInput } from '#shared/ui/fields'
import { DateInput } from '#shared/ui/DateInput'

/** Whether a type shows a field, by the project's setup. */
export function showsField(setup: ProjectSetup | undefined, type: string, field: string): boolean {
  return (
    fieldUseOf(
      setup?.types.find((entry) => entry.type === type),
      field,
    ) !== 'hidden'
  )
}
/** Whether an item of a type is refused without a field. */
export function needsField(setup: ProjectSetup | undefined, type: string, field: string): boolean {
  return (
    fieldUseOf(
      setup?.types.find((entry) => entry.type === type),
      field,
    ) === 'required'
  )
}

/** The control for an own field, by its kind. */
export function OwnFieldControl({
  field,
  value,
  people,
  onChange,
  disabled = false,
  className = '',
}: {
  field: OwnField
  value: OwnValue | undefined
  people: readonly { personId: string; name: string }[]
  onChange: (value: OwnValue) => void
  disabled?: boolean
  className?: string
}) {
  const common = { 'aria-label': field.name, disabled, className }
  const text = typeof value === 'string' ? value : ''
  switch (field.kind) {
    case 'one-of':
      return (
        <Choose
          {...common}
          none="none"
          choices={toChoices(field.choices)}
          value={text}
          onChange={(event) => onChange(event.target.value || null)}
        />
      )
    case 'person':
      return (
        <Choose
          {...common}
          none="nobody"
          choices={people.map((person) => ({ value: person.personId, label: person.name }))}
          value={text}
          onChange={(event) => onChange(event.target.value || null)}
        />
      )
    case 'several-of': {
      const chosen = Array.isArray(value) ? value : []
      return (
        <fieldset aria-label={field.name} className="m-0 flex flex-wrap gap-x-3 border-0 p-0">
          {field.choices.map((choice) => (
            <label key={choice} className="flex items-center gap-1">
              <input
                type="checkbox"
                disabled={disabled}
                checked={chosen.includes(choice)}
                onChange={(event) => onChange(event.target.checked ? [...chosen, choice] : chosen.filter((entry) => entry !== choice))}
              />
              {choice}
            </label>
          ))}
        </fieldset>
      )
    }
    case 'number':
      return (
        <TextInput
          {...common}
          type="number"
          step="any"
          defaultValue={typeof value === 'number' ? value : ''}
          onBlur={(event) => onChange(event.target.value === '' ? null : Number(event.target.value))}
        />
      )
    case 'date':
      return <DateInput label={field.name} disabled={disabled} className={className} value={text} onDone={(day) => onChange(day || null)} />
    default:
      return (
        <TextInput
          {...common}
          type={field.kind === 'link' ? 'url' : 'text'}
          maxLength={2000}
          defaultValue={text}
          onBlur={(event) => onChange(event.target.value || null)}
        />
      )
  }
}
