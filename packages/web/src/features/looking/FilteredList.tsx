import type { KnownValues } from '@dystracer/core/filter/complete-filter'
import type { FilterVocabulary } from '@dystracer/core/filter/filter'
import type { ReactNode } from 'react'
import type { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pending, Quiet } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { FilterBar } from './FilterBar'

export interface FilteredListProps<Row> {
  label: string
  /** The kind of pane that a row opens. */
  kind: string
  words: FilterVocabulary
  known: KnownValues
  placeholder: string
  /** What is said where a filter admits nothing. */
  nothing: string
  /** What is said where there is nothing at all. */
  none?: ReactNode
  filter: string
  onFilter: (filter: string) => void
  pages: ReturnType<typeof usePages<Row>>
  idOf: (row: Row) => string
  renderRow: (row: Row) => ReactNode
  rowHeightPx?: number
}

/** A list of one kind of thing, with its filter above it; the next page comes as the end comes near. */
export function FilteredList<Row>({
  label,
  kind,
  words,
  known,
  placeholder,
  nothing,
  none,
  filter,
  onFilter,
  pages: { rows, onNearEnd, data, error, isLoading },
  idOf,
  renderRow,
  rowHeightPx = 46,
}: FilteredListProps<Row>) {
  const trail = usePaneTrail()
  const isNone = data !== undefined && rows.length === 0
  return (
    <div className="flex h-full flex-col">
      <div className="border-b border-edge-soft">
        <FilterBar
          filter={filter}
          onFilter={onFilter}
          label={`Filter of ${label.toLowerCase()}`}
          placeholder={placeholder}
          about={{ words, known }}
        />
      </div>
      <Pending error={error} isLoading={isLoading} />
      {isNone && filter !== '' && <Quiet>{nothing} Take a condition away.</Quiet>}
      {isNone && filter === '' && (none ?? <Quiet>There is none yet.</Quiet>)}
      <div className="min-h-0 flex-1">
        {rows.length > 0 && (
          <RowList
            label={label}
            rows={rows}
            rowHeightPx={rowHeightPx}
            idOf={idOf}
            selectedId={trail.next?.kind === kind ? trail.next.id : null}
            onNearEnd={onNearEnd}
            onShow={(row, isStep) => trail.open({ kind, id: idOf(row) }, { isStep })}
            renderRow={renderRow}
          />
        )}
      </div>
    </div>
  )
}
