import { boardValue } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/contract/items'
import { useCallback, useMemo, useState, type CSSProperties, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useChangeItemMutation, useItemCountsQuery, useItemsInfiniteQuery } from '../../shared/lib/api'
import { plural } from '../../shared/lib/format'
import { problemText } from '../../shared/lib/problem-text'
import { dialogOpened, useAppDispatch } from '../../shared/lib/store'
import { usePeople } from '../../shared/lib/use-people'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Pending, Quiet } from '../../shared/ui/parts'
import { RowList } from '../../shared/ui/RowList'
import { groupName, LookFrame, useBulkChange, useChosen, useLook } from '../looking'
import { ColumnHeads } from './ColumnHeads'
import { widthVariables } from './item-columns'
import { ItemRow } from './ItemRow'
import { RowEditor } from './RowEditor'
import { useFound } from './use-found'

/** All items that the filter admits, as a list; the whole way of looking stands in the address. */
export function ItemsPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const people = usePeople()
  const look = useLook(id, 'items')
  const { filter, sort, groupBy, columns, widths = {} } = look
  const { data, error, isLoading, isFetching, hasNextPage, fetchNextPage } = useItemsInfiniteQuery({ filter, sort, groupBy })
  const { data: counts } = useItemCountsQuery({ filter, groupBy })
  const rows = useMemo(() => distinct(data?.pages.flatMap((page) => page.rows) ?? []), [data])
  const found = useFound(filter, data?.pages, look.hasWords)
  const hasMore = hasNextPage && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) void fetchNextPage()
  }, [hasMore, fetchNextPage])
  const chosen = useChosen()
  const bulk = useBulkChange()
  const [change] = useChangeItemMutation()
  const [edited, setEdited] = useState<{ key: string; first: string } | null>(null)
  const hidden = trail.next?.kind === 'item' && data && !rows.some((row) => row.key === trail.next?.id) && !hasNextPage ? trail.next.id : null
  const edit = (row: ItemSummary, first: string) => {
    if (people.may('member')) setEdited({ key: row.key, first })
  }
  const onKey = (event: KeyboardEvent, row: ItemSummary | undefined, step: (to: ItemSummary) => void) => {
    if (event.altKey) return false
    if (event.key === ' ' && row) {
      chosen.toggle(row.key)
      return true
    }
    if (event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp') && row) {
      const other = rows[rows.indexOf(row) + (event.key === 'ArrowDown' ? 1 : -1)]
      chosen.add(row.key, ...(other ? [other.key] : []))
      if (other) step(other)
      return true
    }
    if ((event.key === 'e' || event.key === 'F2') && row) {
      edit(row, 'title')
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
      look.set({ filter: filter.includes('mine') ? 'open' : `${filter} mine`.trim() })
      return true
    }
    return false
  }
  const editedRow = edited === null ? undefined : rows.find((row) => row.key === edited.key)
  return (
    <LookFrame look={look} count={counts ? `${counts.total} found` : ''}>
      {error && (
        <p role="alert" className="px-3 text-fault">
          {problemText(error)}
        </p>
      )}
      {hidden && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          {hidden} is not in this list: the filter leaves it out.
        </p>
      )}
      <div data-columns className="flex min-h-0 flex-1 flex-col" style={widthVariables(widths) as CSSProperties}>
        <ColumnHeads
          columns={columns}
          widths={widths}
          onWidth={(column, px) => {
            const { [column]: _before, ...others } = widths
            look.set({ widths: px === undefined ? others : { ...others, [column]: px } })
          }}
        />
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
              onDoubleClick={(row, event) =>
                edit(row, (event.target instanceof Element && event.target.closest<HTMLElement>('[data-column]')?.dataset.column) || 'title')
              }
              {...(groupBy && {
                headOf: (row: ItemSummary, before: ItemSummary | undefined) => {
                  const value = boardValue(row, groupBy)
                  if (before && boardValue(before, groupBy) === value) return null
                  const count = counts?.groups.find((group) => group.value === value)?.count
                  return (
                    <p className="flex gap-2 border-b border-edge bg-paper px-3 py-1 text-[12px]">
                      <b className="first-letter:uppercase">{groupName(groupBy, value, people.nameOf)}</b>
                      <span className="text-ink-3">{count === undefined ? '' : plural(count, 'item')}</span>
                    </p>
                  )
                },
              })}
              overlay={
                edited && editedRow
                  ? {
                      id: edited.key,
                      content: (
                        <RowEditor
                          key={edited.key}
                          item={editedRow}
                          columns={columns}
                          first={edited.first}
                          onChange={(fields) =>
                            void change({ key: edited.key, change: fields }).then((result) => {
                              if (result.error) toast.error(problemText(result.error))
                            })
                          }
                          onDone={() => {
                            setEdited(null)
                            document.querySelector<HTMLElement>('[role="listbox"][aria-label="Items"]')?.focus()
                          }}
                        />
                      ),
                    }
                  : null
              }
              renderRow={(row) => (
                <ItemRow
                  item={row}
                  columns={columns}
                  isMarked={chosen.keys.has(row.key)}
                  initials={people.initialsOf(row.ownerId)}
                  ownerName={people.nameOf(row.ownerId)}
                  found={found.get(row.key)}
                />
              )}
            />
          )}
        </div>
      </div>
    </LookFrame>
  )
}

/** Each item once: one that moved up while pages were read would stand on two of them. */
function distinct(rows: readonly ItemSummary[]): ItemSummary[] {
  return [...new Map(rows.map((row) => [row.key, row])).values()]
}
