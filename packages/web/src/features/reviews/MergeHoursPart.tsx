import type { MergeHours } from '@dystracer/core/reviews/events'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

const DAYS = {
  '1,2,3,4,5': 'Monday to Friday',
  '1,2,3,4': 'Monday to Thursday',
  '1,2,3,4,5,6,7': 'on any day',
  '6,7': 'at weekends',
} as const

/** When a merge may be, as words that are controls. */
export function MergeHoursPart({
  hours,
  where,
  canEdit,
  onChange,
}: {
  hours: MergeHours
  where: string
  canEdit: boolean
  onChange: (hours: MergeHours | null) => void
}) {
  const days = hours.days.join()
  const known = Object.entries(DAYS).map(([value, label]) => ({ value: value as string, label: label as string }))
  const choices = days in DAYS ? known : [...known, { value: days, label: `days ${days}` }]
  return (
    <span className="flex flex-wrap items-center gap-2">
      and it is
      <Choose
        aria-label={`Days of merges in ${where}`}
        className="w-auto! py-0.5!"
        disabled={!canEdit}
        value={days}
        choices={choices}
        onChange={({ target }) => onChange({ ...hours, days: target.value.split(',').map(Number) })}
      />
      from
      <Clock label={`Merges begin in ${where}`} value={hours.from} disabled={!canEdit} onChange={(from) => onChange({ ...hours, from })} />
      to
      <Clock label={`Merges end in ${where}`} value={hours.until} disabled={!canEdit} onChange={(until) => onChange({ ...hours, until })} />
      <span className="text-ink-2">{hours.zone}</span>
      {canEdit && (
        <Button look="line" aria-label={`at any hour, in ${where}`} onClick={() => onChange(null)}>
          at any hour
        </Button>
      )}
    </span>
  )
}

function Clock({
  label,
  value,
  disabled,
  onChange,
}: {
  label: string
  value: string
  disabled: boolean
  onChange: (time: string) => void
}) {
  return (
    <TextInput
      type="time"
      aria-label={label}
      className="w-auto! py-0.5!"
      disabled={disabled}
      defaultValue={value}
      onBlur={(event) => event.target.value !== '' && event.target.value !== value && onChange(event.target.value)}
    />
  )
}
