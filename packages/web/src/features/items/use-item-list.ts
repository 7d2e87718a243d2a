import type { ChangeItem } from '@dystracer/core/items/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { actionOf } from '#shared/lib/keys'
import { listLines, type ListLine } from '@dystracer/core/looking/groups'
import { useCallback, useMemo, useState, type KeyboardEvent } from 'react'
import { toast } from 'sonner'
import { useChangeItemMutation } from './items.api'
import { LONG_LIST_PAGES } from '#shared/lib/api'
import { useItemCountsQuery, useItemsInfiniteQuery } from '#features/looking/looking.api'
import { problemText } from '#shared/lib/problem-text'
import { dialogOpened, useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { useBulkChange, useChosen, useLook } from '#features/looking/index'
import { useFound } from './use-found'

const NONE: readonly string[] = []

/**
 * A list of items: its rows by page and group, the row that is being changed, and its keys. A long list is not read again by itself: it
 * says how many items came or went since.
 */
export function useItemList(id: string) {
  const trail = usePaneTrail()
  const dispatch = useAppDispatch()
  const people = usePeople()
  const look = useLook(id, 'items')
  const { filter, sort, groupBy, folded = NONE, columns } = look
  const { data, currentData, error, isLoading, isFetching, hasNextPage, fetchNextPage, refetch } = useItemsInfiniteQuery({
    filter,
    sort,
    groupBy,
    ...(groupBy && { folded }),
    ...(columns.includes('parent') && { withParents: true }),
  })
  const { data: counts, currentData: currentCounts } = useItemCountsQuery({ filter, groupBy })
  // Rows that were read for another grouping stand as they stood until those of this one come: they are not in its order.
  const [groupedBy, setGroupedBy] = useState(groupBy)
  if (groupedBy !== groupBy && currentData && currentCounts) setGroupedBy(groupBy)
  const rows = useMemo(() => distinct(data?.pages.flatMap((page) => page.rows) ?? []), [data])
  const groups = counts?.groups
  // A long list is not read again by itself: what it held when it was read, to tell when that is no longer so.
  const [readTotal, setReadTotal] = useState<number | undefined>()
  const isLong = (data?.pages.length ?? 0) > LONG_LIST_PAGES
  if (!isLong && readTotal !== counts?.total) setReadTotal(counts?.total)
  const readAgain = () => void refetch().then(() => setReadTotal(counts?.total))
  const lines = useMemo(
    () => listLines(rows, { groupBy: groupedBy, groups, folded, hasMore: hasNextPage }),
    [rows, groupedBy, groups, folded, hasNextPage],
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
  const changeEdited = (fields: ChangeItem) => {
    if (edited)
      void change({ key: edited.key, change: fields }).then((result) => {
        if (result.error) toast.error(problemText(result.error))
      })
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
  return {
    look,
    counts,
    error,
    isLoading,
    isFetching,
    lines,
    groupedBy,
    found,
    chosen,
    hidden,
    cameSinceRead: isLong && counts && readTotal !== undefined ? counts.total - readTotal : 0,
    readAgain,
    edited,
    editedRow,
    edit,
    changeEdited,
    setEdited,
    setFolded,
    fold,
    onKey,
    onNearEnd,
  }
}

/** Each item once: one that moved up while pages were read would stand on two of them. */
function distinct(rows: readonly ItemSummary[]): ItemSummary[] {
  return [...new Map(rows.map((row) => [row.key, row])).values()]
}
