import { splitWords } from '#shared/lib/format'
import type { ChangeItem } from '@dystracer/core/items/wire'
import type { ItemColumn } from '@dystracer/core/looking/look'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useState, type ReactNode, type RefObject } from 'react'
import { ownFieldAt } from '@dystracer/core/setup/own-field'
import { usePlaces } from '#features/looking/index'
import { usePeople } from '#features/people/index'
import { PRIORITY_CHOICES, SEVERITIES, toChoices } from '#shared/lib/choices'
import { DateInput } from '#shared/ui/DateInput'
import { Choose, TextInput } from '#shared/ui/fields'
import { OwnFieldControl } from './item-fields'

/** A control as small as the text of a row. */
export const TIGHT = 'px-1! py-0! text-[12px]'
const EDITABLE: readonly ItemColumn[] = [
  'severity',
  'type',
  'priority',
  'component',
  'milestone',
  'owner',
  'due',
  'sprint',
  'points',
  'labels',
]

/** Whether a column can be changed in its row. */
export function isEditable(column: ItemColumn): boolean {
  return EDITABLE.includes(column) || ownFieldAt(column) !== null
}

interface RowFieldProps {
  item: ItemSummary
  /** Set once the row is left by Escape: what is typed then is not saved. */
  isLeaving: RefObject<boolean>
  onChange: (change: ChangeItem) => void
}

/** One field of a row, as a control; nothing for a column that cannot be changed there. */
export function RowField({ item, column, isLeaving, onChange }: RowFieldProps & { column: ItemColumn }): ReactNode {
  const { me } = usePeople()
  const choose = (
    column: ItemColumn,
    value: string | null,
    choices: { value: string; label: string }[],
    change: (value: string | null) => ChangeItem,
  ) => (
    <Choose
      aria-label={`${column} of ${item.key}`}
      className={TIGHT}
      none={column === 'type' ? undefined : '–'}
      value={value ?? ''}
      choices={choices}
      onChange={(event) => onChange(change(event.target.value || null))}
    />
  )
  switch (column) {
    case 'severity':
      return choose(column, item.severity === null ? null : String(item.severity), SEVERITIES, (value) => ({
        severity: value === null ? null : Number(value),
      }))
    case 'type':
      return choose(column, item.type, toChoices(me?.setup.types.map((type) => type.type) ?? []), (value) => ({
        type: value ?? item.type,
      }))
    case 'priority':
      return choose(column, item.priority, PRIORITY_CHOICES, (value) => ({ priority: value as ChangeItem['priority'] }))
    case 'component':
      return choose(column, item.component, toChoices(me?.components ?? []), (component) => ({ component }))
    case 'milestone':
      return choose(
        column,
        item.milestone,
        toChoices([...new Set([...(me?.milestones ?? []), ...(item.milestone ? [item.milestone] : [])])]),
        (milestone) => ({
          milestone,
        }),
      )
    case 'owner':
      return choose(
        column,
        item.ownerId,
        (me?.people ?? []).map((person) => ({ value: person.personId, label: person.name })),
        (ownerId) => ({ ownerId }),
      )
    case 'due':
      return (
        <DateInput
          label={`due of ${item.key}`}
          className={TIGHT}
          value={item.dueOn ?? ''}
          onDone={(day) => onChange({ dueOn: day || null })}
        />
      )
    case 'sprint':
      return (
        <TextInput
          aria-label={`sprint of ${item.key}`}
          className={TIGHT}
          maxLength={50}
          defaultValue={item.sprint ?? ''}
          onBlur={({ target }) =>
            target.value.trim() !== (item.sprint ?? '') && !isLeaving.current && onChange({ sprint: target.value.trim() || null })
          }
        />
      )
    case 'points':
      return (
        <TextInput
          type="number"
          min={0}
          max={1000}
          step="any"
          aria-label={`points of ${item.key}`}
          className={TIGHT}
          defaultValue={item.points ?? ''}
          onBlur={({ target }) => {
            const points = target.value === '' ? null : Number(target.value)
            if (points !== item.points && !isLeaving.current) onChange({ points })
          }}
        />
      )
    case 'labels':
      return <LabelsField item={item} isLeaving={isLeaving} onChange={onChange} />
    default:
      return ownFieldAt(column) === null ? null : <OwnRowField item={item} column={column} onChange={onChange} />
  }
}

/** A project's own field; nothing where the item's type has it not. */
function OwnRowField({ item, column, onChange }: Omit<RowFieldProps, 'isLeaving'> & { column: ItemColumn }) {
  const { me } = usePeople()
  const field = usePlaces().ownField(column)
  if (!field || (field.types.length > 0 && !field.types.includes(item.type))) return null
  const value = item.ownValues[field.fieldId] ?? null
  return (
    <OwnFieldControl
      field={{ ...field, name: `${field.name} of ${item.key}` }}
      value={value}
      people={me?.people ?? []}
      className={TIGHT}
      onChange={(next) => JSON.stringify(next) !== JSON.stringify(value) && onChange({ ownValues: { [field.fieldId]: next } })}
    />
  )
}

/** The labels of a row as one line with commas; saved when it is left. */
function LabelsField({ item, isLeaving, onChange }: RowFieldProps) {
  const [labels, setLabels] = useState(item.labels.join(', '))
  const saveLabels = () => {
    const next = splitWords(labels)
    if (!isLeaving.current && next.join() !== item.labels.join()) onChange({ labels: next })
  }
  return (
    <TextInput
      aria-label={`labels of ${item.key}`}
      className={TIGHT}
      value={labels}
      onChange={(event) => setLabels(event.target.value)}
      onBlur={saveLabels}
    />
  )
}
