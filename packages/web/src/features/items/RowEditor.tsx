import type { ChangeItem } from '@dystracer/core/items/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { ItemColumn } from '@dystracer/core/looking/look'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { PRIORITY_CHOICES, SEVERITIES, toChoices } from '#shared/lib/choices'
import { usePeople } from '#features/people/index'
import { DateInput } from '#shared/ui/DateInput'
import { Choose, TextInput } from '#shared/ui/fields'
import { BEHIND_TITLE, widthOf } from './item-columns'

const TIGHT = 'px-1! py-0! text-[12px]'

/**
 * The fields of a row, changed in place: the title and whatever columns are shown. Each is saved when it is left; Enter and Escape give the
 * keyboard back to the list.
 */
export function RowEditor({
  item,
  columns,
  first,
  onChange,
  onDone,
}: {
  item: ItemSummary
  columns: readonly ItemColumn[]
  /** The field that has the keyboard first. */
  first: string
  onChange: (change: ChangeItem) => void
  onDone: () => void
}) {
  const { me } = usePeople()
  const root = useRef<HTMLFieldSetElement>(null)
  const [title, setTitle] = useState(item.title)
  const [labels, setLabels] = useState(item.labels.join(', '))
  const isLeaving = useRef(false)
  // The keyboard goes to the field that was asked for.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it opens
  useEffect(() => {
    const field =
      root.current?.querySelector<HTMLElement>(`[data-field="${first}"] :is(input, select)`) ??
      root.current?.querySelector<HTMLElement>('input')
    field?.focus()
    if (field instanceof HTMLInputElement) field.select()
  }, [])
  const saveTitle = () => {
    if (!isLeaving.current && title.trim() !== '' && title.trim() !== item.title) onChange({ title: title.trim() })
  }
  const saveLabels = () => {
    const next = labels
      .split(',')
      .map((label) => label.trim())
      .filter(Boolean)
    if (!isLeaving.current && next.join() !== item.labels.join()) onChange({ labels: next })
  }
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
  const fieldOf = (column: ItemColumn): ReactNode => {
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
      case 'labels':
        return (
          <TextInput
            aria-label={`labels of ${item.key}`}
            className={TIGHT}
            value={labels}
            onChange={(event) => setLabels(event.target.value)}
            onBlur={saveLabels}
          />
        )
      default:
        return null
    }
  }
  const cell = (column: ItemColumn, leastPx: number) => {
    const field = columns.includes(column) && fieldOf(column)
    return (
      field && (
        <span
          key={column}
          data-field={column}
          className="min-w-[40px] shrink"
          style={{ flexBasis: `max(${leastPx}px, ${widthOf(column).width})` }}
        >
          {field}
        </span>
      )
    )
  }
  return (
    <fieldset
      ref={root}
      aria-label={`Fields of ${item.key}`}
      className="m-0 flex min-w-0 flex-1 items-center gap-2 border-0 p-0"
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Escape') isLeaving.current = true
        if (event.key === 'Escape' || (event.key === 'Enter' && !(event.target instanceof HTMLButtonElement))) {
          event.preventDefault()
          if (event.target instanceof HTMLElement) event.target.blur()
          onDone()
        }
      }}
      onBlur={(event) => {
        // Left for good: not for another of its fields, nor for the calendar that one of them opens.
        if (
          event.relatedTarget &&
          !event.currentTarget.contains(event.relatedTarget) &&
          !event.relatedTarget.closest('[data-radix-popper-content-wrapper]')
        )
          onDone()
      }}
    >
      <span className="w-[58px] shrink-0 font-mono text-[12px] text-ink-2">{item.key}</span>
      {cell('severity', 44)}
      {cell('type', 80)}
      <span data-field="title" className="min-w-[120px] flex-1">
        <TextInput
          aria-label={`title of ${item.key}`}
          className={TIGHT}
          maxLength={200}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          onBlur={saveTitle}
        />
      </span>
      {BEHIND_TITLE.map((column) => cell(column, column === 'due' ? 100 : 76))}
    </fieldset>
  )
}
