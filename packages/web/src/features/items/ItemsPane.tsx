import { useCallback, useMemo, useState, type KeyboardEvent } from 'react'
import type { ChangeItem, ItemSummary } from '@dystracer/core/contract/items'
import { COLUMNS_DEFAULT, type ItemColumn, type View } from '@dystracer/core/contract/views'
import { useItemsInfiniteQuery, useViewsQuery } from '../../shared/lib/api'
import { problemText } from '../../shared/lib/problem-text'
import { dialogOpened, useAppDispatch } from '../../shared/lib/store'
import { usePeople } from '../../shared/lib/use-people'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Choose } from '../../shared/ui/fields'
import { Pane } from '../../shared/ui/Pane'
import { Pending, Quiet } from '../../shared/ui/parts'
import { RowList } from '../../shared/ui/RowList'
import { BulkBar } from './BulkBar'
import { FilterBar } from './FilterBar'
import { ItemRow } from './ItemRow'
import { useBulkChange } from './use-bulk-change'
import { ViewMenu } from './ViewMenu'

const SORTS = [
  { value: 'worst', label: 'worst first' },
  { value: 'newest', label: 'newest first' },
  { value: 'updated', label: 'last changed first' },
]

/** All items that the filter admits; the filter stands in the address. */
export function ItemsPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const people = usePeople()
  const filter = id === '' ? 'open' : id === '*' ? '' : id
  const project = people.me?.project.prefix ?? ''
  const { data: views } = useViewsQuery(project, { skip: project === '' })
  const view = views?.rows.find((known) => known.filter === filter)
  const [chosen, setChosen] = useState<{ filter: string; sort?: View['sort']; columns?: readonly ItemColumn[] }>({ filter })
  // A view brings its order and columns; what is changed here holds while the same filter stands.
  const own = chosen.filter === filter ? chosen : { filter }
  const sort = own.sort ?? view?.sort ?? 'worst'
  const columns = own.columns ?? view?.columns ?? COLUMNS_DEFAULT
  const { data, error, isLoading, isFetching, hasNextPage, fetchNextPage } = useItemsInfiniteQuery({ filter, sort })
  const rows = useMemo(() => distinct(data?.pages.flatMap((page) => page.rows) ?? []), [data])
  const total = data?.pages[0]?.total
  const hasMore = hasNextPage && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) void fetchNextPage()
  }, [hasMore, fetchNextPage])
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set())
  const hidden = trail.next?.kind === 'item' && data && !rows.some((row) => row.key === trail.next?.id) && !hasNextPage ? trail.next.id : null
  const bulk = useBulkChange()
  const changeMarked = async (change: ChangeItem, said: string) => {
    if (await bulk.run([...marked], change, said)) setMarked(new Set())
  }
  const onKey = (event: KeyboardEvent, row: ItemSummary | undefined, step: (to: ItemSummary) => void) => {
    if (event.key === ' ' && row) {
      setMarked(toggled(marked, row.key))
      return true
    }
    if (event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp') && row) {
      const other = rows[rows.indexOf(row) + (event.key === 'ArrowDown' ? 1 : -1)]
      setMarked((now) => new Set([...now, row.key, ...(other ? [other.key] : [])]))
      if (other) step(other)
      return true
    }
    if (event.key === 'n') {
      dispatch(dialogOpened('log'))
      return true
    }
    if (event.key === 'z') {
      void bulk.takeBack()
      return true
    }
    if (event.key === 'm') {
      trail.rename(filter.includes('mine') ? 'open' : `${filter} mine`.trim())
      return true
    }
    return false
  }
  return (
    <Pane
      label="Items"
      title={
        <>
          Items <span className="ml-1 text-[13px] font-normal text-ink-2">{total !== undefined ? `${total} found` : ''}</span>
        </>
      }
      aside={
        <>
          <ViewMenu filter={filter} sort={sort} columns={columns} view={view} onColumns={(next) => setChosen({ ...own, columns: next })} />
          <Choose
            aria-label="Order"
            choices={SORTS}
            value={sort}
            onChange={(event) => setChosen({ ...own, sort: event.target.value as View['sort'] })}
            className="border-0! py-0.5!"
          />
        </>
      }
    >
      <div className="flex h-full flex-col">
        <FilterBar filter={filter} onFilter={(text) => trail.rename(text === '' ? '*' : text)} />
        {error && (
          <p role="alert" className="px-3 text-fault">
            {problemText(error)}
          </p>
        )}
        {marked.size > 0 && (
          <BulkBar
            count={marked.size}
            isBusy={bulk.isLoading}
            onChange={(change, said) => void changeMarked(change, said)}
            onNone={() => setMarked(new Set())}
          />
        )}
        {hidden && (
          <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
            {hidden} is not in this list: the filter leaves it out.
          </p>
        )}
        <div className="min-h-0 flex-1">
          {isLoading ? (
            <Pending isLoading />
          ) : rows.length === 0 && !error ? (
            <Quiet>No item fits this filter. Take a word away, or log an item with “n”.</Quiet>
          ) : (
            <RowList
              label="Items"
              rows={rows}
              idOf={(row) => row.key}
              selectedId={trail.next?.kind === 'item' ? trail.next.id : null}
              onNearEnd={onNearEnd}
              onKey={onKey}
              onShow={(row, isStep) => trail.open({ kind: 'item', id: row.key }, { isStep })}
              renderRow={(row) => (
                <ItemRow
                  item={row}
                  columns={columns}
                  isMarked={marked.has(row.key)}
                  initials={people.initialsOf(row.ownerId)}
                  ownerName={people.nameOf(row.ownerId)}
                />
              )}
            />
          )}
        </div>
      </div>
    </Pane>
  )
}

function toggled(set: ReadonlySet<string>, key: string): ReadonlySet<string> {
  const next = new Set(set)
  if (!next.delete(key)) next.add(key)
  return next
}

/** Each item once: one that moved up while pages were read would stand on two of them. */
function distinct(rows: readonly ItemSummary[]): ItemSummary[] {
  return [...new Map(rows.map((row) => [row.key, row])).values()]
}
