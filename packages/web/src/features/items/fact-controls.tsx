import { useState, type ReactNode } from 'react'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button, Fact } from '#shared/ui/parts'

/** A control that looks like the text it changes. */
export const BARE = 'border-0! px-0! py-0! disabled:opacity-100'

/** A field that is one of several values, changed as soon as one is chosen; a value that is offered no more still shows. */
export function Pick({
  label,
  value,
  choices,
  none,
  isLocked,
  isBad = false,
  onPick,
}: {
  label: string
  value: string
  choices: readonly { value: string; label: string }[]
  none?: string
  isLocked: boolean
  isBad?: boolean
  onPick: (value: string) => void
}) {
  return (
    <Fact label={label}>
      <Choose
        aria-label={label}
        disabled={isLocked}
        value={value}
        {...(none !== undefined && { none })}
        choices={value !== '' && !choices.some((choice) => choice.value === value) ? [...choices, { value, label: value }] : choices}
        onChange={(event) => onPick(event.target.value)}
        className={`${BARE} -ml-1 ${isBad ? 'font-bold text-fault' : ''}`}
      />
    </Fact>
  )
}

/** A field that is typed: saved when it is left or with Enter, put back with Escape. */
export function Typed({
  label,
  value,
  list,
  placeholder,
  hint,
  isLocked,
  onDone,
}: {
  label: string
  value: string | null
  list?: string | undefined
  /** What stands in pale words beside it. */
  hint?: string | null | undefined
  placeholder?: string
  isLocked: boolean
  onDone: (value: string | null) => Promise<boolean>
}): ReactNode {
  return (
    <Fact label={hint ? `${label} · ${hint}` : label}>
      <TextInput
        key={value ?? ''}
        aria-label={label}
        disabled={isLocked}
        defaultValue={value ?? ''}
        list={list}
        placeholder={placeholder ?? (isLocked ? '' : 'none')}
        maxLength={50}
        className={BARE}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
          if (event.key === 'Escape') {
            event.currentTarget.value = value ?? ''
            event.currentTarget.blur()
          }
        }}
        onBlur={(event) => {
          const field = event.currentTarget
          const typed = field.value.trim() || null
          if (typed !== value)
            void onDone(typed).then((isSaved) => {
              if (!isSaved) field.value = value ?? ''
            })
        }}
      />
    </Fact>
  )
}

/** Several people, as names until somebody changes them. */
export function PeopleBoxes({
  label,
  chosen,
  people,
  isLocked,
  onChange,
}: {
  label: string
  chosen: readonly string[]
  people: readonly { value: string; label: string }[]
  isLocked: boolean
  onChange: (chosen: string[]) => void
}) {
  const [isOpen, setIsOpen] = useState(false)
  const names = people.filter((person) => chosen.includes(person.value)).map((person) => person.label)
  return (
    <fieldset aria-label={label} className="m-0 border-0 p-0">
      {names.join(', ') || <span className="text-ink-3">nobody</span>}{' '}
      {!isLocked && (
        <Button look="line" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
          {isOpen ? 'done' : 'change'}
        </Button>
      )}
      {isOpen &&
        people.map((person) => (
          <label key={person.value} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={chosen.includes(person.value)}
              onChange={(event) => onChange(event.target.checked ? [...chosen, person.value] : chosen.filter((id) => id !== person.value))}
            />
            {person.label}
          </label>
        ))}
    </fieldset>
  )
}
