import type { ChangeItem } from '@dystracer/core/items/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { ItemColumn } from '@dystracer/core/looking/look'
import { useEffect, useRef, useState } from 'react'
import { TextInput } from '#shared/ui/fields'
import { behindTitle, widthOf } from './item-columns'
import { isEditable, RowField, TIGHT } from './RowField'

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
  const root = useRef<HTMLFieldSetElement>(null)
  const [title, setTitle] = useState(item.title)
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
  const cell = (column: ItemColumn, leastPx: number) => {
    return (
      columns.includes(column) &&
      isEditable(column) && (
        <span
          key={column}
          data-field={column}
          className="min-w-[40px] shrink"
          style={{ flexBasis: `max(${leastPx}px, ${widthOf(column).width})` }}
        >
          <RowField item={item} column={column} isLeaving={isLeaving} onChange={onChange} />
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
      {behindTitle(columns).map((column) => cell(column, column === 'due' ? 100 : 76))}
    </fieldset>
  )
}
