import type { ItemSummary } from '@dystracer/core/records/wire'
import { actionOf } from '#shared/lib/keys'
import { listLines, type ListLine } from '@dystracer/core/looking/groups'
import { useCallback, useMemo, useState, type CSSProperties, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useChangeItemMutation } from './items.api'
import { LONG_LIST_PAGES } from '#shared/lib/api'
import { useItemCountsQuery, useItemsInfiniteQuery } from '#features/looking/looking.api'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { dialogOpened, useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, Quiet, Refusal } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { groupName, LookFrame, useBulkChange, useChosen, useLook } from '#features/looking/index'
import { ColumnHeads } from './ColumnHeads'
import { widthVariables } from './item-columns'
import { ItemRow } from './ItemRow'
import { RowEditor } from './RowEditor'
import { useFound } from './use-found'

const NONE: readonly string[] = []

/** All items that the filter admits, as a list; the whole way of looking stands in the address. */
export function ItemsPane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const people = usePeople()
  const look = useLook(id, 'items')
  const { filter, sort, groupBy, folded = NONE, columns, widths = {} } = look
  const { data, error, isLoading, isFetching, hasNextPage, fetchNextPage, refetch } = useItemsInfiniteQuery({
    filter,
    sort,
    groupBy,
    ...(groupBy && { folded }),
  })
  const { data: counts } = useItemCountsQuery({ filter, groupBy })
  const rows = useMemo(() => distinct(data?.pages.flatMap((page) => page.rows) ?? []), [data])
  const groups = counts?.groups
  // A long list is not read again by itself: what it held when it was read, to tell when that is no longer so.
  const [readTotal, setReadTotal] = useState<number | undefined>()
  const isLong = (data?.pages.length ?? 0) > LONG_LIST_PAGES
  if (!isLong && readTotal !== counts?.total) setReadTotal(counts?.total)
  const readAgain = () => void refetch().then(() => setReadTotal(counts?.total))
  const lines = useMemo(
    () => listLines(rows, { groupBy, groups, folded, hasMore: hasNextPage }),
    [rows, groupBy, groups, folded, hasNextPage],
  )
  const found = useFound(filter, data?.pages, look.hasWords)
  const hasMore = hasNextPage && !isFetching
  const onNearEnd = useCallback(() => {
    if (hasMore) void fetchNextPage()
  }, [hasMore, fetchNextPage])
  const chosen = useChosen()
  const bulk = useBulkChange()
  const [change] = useChangeItemMutation()
  const [edited, setEdited] = useState<{ key: string; first: string } | null>(null)
  const isOut = folded.length === 0 && !hasNextPage
  const hidden = trail.next?.kind === 'item' && data && !rows.some((row) => row.key === trail.next?.id) && isOut ? trail.next.id : null
  const edit = (row: ItemSummary, first: string) => {
    if (people.may('items.change')) setEdited({ key: row.key, first })
  }
  const setFolded = (to: readonly string[]) => look.set({ folded: to })
  const fold = ({ value, isFolded }: ListLine & { kind: 'group' }) =>
    setFolded(isFolded ? folded.filter((known) => known !== value) : [...folded, value])
  /** Keys on the head of a group: space and the arrows fold and unfold it. */
  const onGroupKey = (event: KeyboardEvent, line: ListLine & { kind: 'group' }) => {
    if (event.key !== ' ' && event.key !== (line.isFolded ? 'ArrowRight' : 'ArrowLeft')) return false
    // The pane's own arrows go from pane to pane.
    event.stopPropagation()
    fold(line)
    return true
  }
  const onKey = (event: KeyboardEvent, line: ListLine | undefined, step: (to: ListLine) => void) => {
    if (event.altKey) return false
    if (line?.kind === 'group' && onGroupKey(event, line)) return true
    const row = line?.kind === 'item' ? line.item : undefined
    switch (actionOf('items', event)) {
      case 'choose':
        if (row) chosen.toggle(row.key)
        return row !== undefined
      case 'extend': {
        if (!row) return false
        const other = rows[rows.indexOf(row) + (event.key === 'ArrowDown' ? 1 : -1)]
        chosen.add(row.key, ...(other ? [other.key] : []))
        const to = lines.find((known) => known.id === other?.key)
        if (to) step(to)
        return true
      }
      case 'edit':
        if (row) edit(row, 'title')
        return row !== undefined
      case 'log':
        dispatch(dialogOpened('log'))
        return true
      case 'undo':
        void bulk.takeBack()
        return true
      case 'mine':
        look.set({ filter: filter.includes('mine') ? 'open' : `${filter} mine`.trim() })
        return true
      default:
        return false
    }
  }
  const editedRow = edited === null ? undefined : rows.find((row) => row.key === edited.key)
  return (
    <LookFrame
      look={look}
      count={counts ? `${counts.total} found` : ''}
      aside={
        groups && groups.length > 0 ? (
          <Button look="line" onClick={() => setFolded(folded.length > 0 ? [] : groups.map((group) => group.value))}>
            {folded.length > 0 ? 'unfold all' : 'fold all'}
          </Button>
        ) : null
      }
    >
      <Refusal error={error} className="px-3" />
      {isLong && counts && readTotal !== undefined && counts.total !== readTotal && (
        <p role="status" className="border-b border-edge bg-ochre-soft px-3 py-1 text-[12px]">
          Since this list was read, {plural(Math.abs(counts.total - readTotal), 'item')} {counts.total > readTotal ? 'came' : 'went'}.{' '}
          <Button look="line" disabled={isFetching} onClick={readAgain}>
            Read it again
          </Button>
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
          ) : lines.length === 0 && !error ? (
            <Quiet>No item fits this filter. Take a word away, or log an item with “n”.</Quiet>
          ) : (
            <RowList
              label="Items"
              rows={lines}
              idOf={(line) => line.id}
              isHead={(line) => line.kind === 'group'}
              selectedId={trail.next?.kind === 'item' ? trail.next.id : null}
              onNearEnd={onNearEnd}
              onKey={onKey}
              onShow={(line, isStep) => {
                if (line.kind === 'item') trail.open({ kind: 'item', id: line.item.key }, { isStep })
                else if (!isStep) fold(line)
              }}
              onDoubleClick={(line, event) => {
                if (line.kind === 'item')
                  edit(
                    line.item,
                    (event.target instanceof Element && event.target.closest<HTMLElement>('[data-column]')?.dataset.column) || 'title',
                  )
              }}
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
              renderRow={(line) =>
                line.kind === 'group' ? (
                  <GroupHead line={line} name={groupName(groupBy ?? 'stage', line.value, people.nameOf)} />
                ) : (
                  <ItemRow
                    item={line.item}
                    columns={columns}
                    isMarked={chosen.keys.has(line.item.key)}
                    initials={people.initialsOf(line.item.ownerId)}
                    ownerName={people.nameOf(line.item.ownerId)}
                    found={found.get(line.item.key)}
                  />
                )
              }
            />
          )}
        </div>
      </div>
    </LookFrame>
  )
}

/** A click or Enter folds the group and unfolds it; so do space and the arrows. */
function GroupHead({ line, name }: { line: ListLine & { kind: 'group' }; name: string }) {
  return (
    <span className="flex min-w-0 flex-1 gap-2 text-[12px]">
      <span aria-hidden="true" className="w-3 shrink-0 text-ink-3">
        {line.isFolded ? '+' : '−'}
      </span>
      <b className="truncate first-letter:uppercase">{name}</b>
      <span className="text-ink-3">
        {line.count === null ? '' : plural(line.count, 'item')}
        <span className="sr-only">{line.isFolded ? ', folded' : ''}</span>
      </span>
    </span>
  )
}

/** Each item once: one that moved up while pages were read would stand on two of them. */
function distinct(rows: readonly ItemSummary[]): ItemSummary[] {
  return [...new Map(rows.map((row) => [row.key, row])).values()]
}
