import { boardValue } from '@dystracer/core/board/board'
import type { LiveMessage } from '@dystracer/core/desk/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { itemsApi } from '#features/items/items.api'
import { api } from '#shared/lib/api'
import { itemsChanged, store } from '#shared/lib/store'
import { lookingApi, type ItemsArgs } from './looking.api'
import type { LookingEvents } from '@dystracer/core/looking/events'
import type { Refreshes } from '#shared/lib/refreshes'

/** What the events of looking make stale, beside the things that they are about. */
export const lookingLive: Refreshes<LookingEvents> = {
  'view-saved': {},
  'view-removed': {},
  'view-pinned': {},
}

/**
 * Puts items as they are now into all that is on screen, each list in one go. In a list of groups they keep their places; `hasLeftGroup`
 * tells where one belongs into another group.
 */
export function patchItems(messages: readonly LiveMessage[]): { hasLeftGroup: boolean } {
  let hasLeftGroup = false
  const byKey = new Map<string, ItemSummary>()
  const changed: Record<string, number> = {}
  for (const { item, seq, ladder } of messages) {
    if (!item) continue
    byKey.set(item.key, item)
    changed[item.key] = seq
    // The open pane's ladder moves with the message; what else changed is fetched behind it.
    if (ladder) store.dispatch(itemsApi.util.updateQueryData('item', item.key, (draft) => void Object.assign(draft, item, { ladder })))
  }
  if (byKey.size === 0) return { hasLeftGroup }
  store.dispatch(itemsChanged(changed))
  /**
   * Where the changed items stand in a list, and what they are now. Read from the list itself: a draft makes a copy of each row that is
   * looked at.
   */
  const places = (rows: readonly ItemSummary[]) =>
    rows.flatMap((row, at) => {
      const item = byKey.get(row.key)
      return item ? [{ at, before: row, item }] : []
    })
  for (const { endpointName, originalArgs } of api.util.selectInvalidatedBy(store.getState(), ['Items', 'LongItems'])) {
    if (endpointName === 'boardItems') {
      const args = originalArgs as { filter: string; sort: ItemsArgs['sort']; limit: number }
      const found = places(lookingApi.endpoints.boardItems.select(args)(store.getState()).data?.rows ?? [])
      if (found.length > 0)
        store.dispatch(
          lookingApi.util.updateQueryData('boardItems', args, (draft) => {
            for (const { at, item } of found) draft.rows[at] = item
          }),
        )
    }
    if (endpointName === 'outline') {
      const args = originalArgs as { filter: string; sort: ItemsArgs['sort'] }
      const found = places((lookingApi.endpoints.outline.select(args)(store.getState()).data?.rows ?? []).map((entry) => entry.item))
      if (found.length > 0)
        store.dispatch(
          lookingApi.util.updateQueryData('outline', args, (draft) => {
            for (const { at, item } of found) Object.assign(draft.rows[at] ?? {}, { item })
          }),
        )
    }
    if (endpointName === 'items') {
      const args = originalArgs as ItemsArgs
      const groupBy = args.groupBy
      const pages = lookingApi.endpoints.items.select(args)(store.getState()).data?.pages ?? []
      const found = pages.flatMap((page, pageAt) => places(page.rows).map((place) => ({ ...place, pageAt })))
      hasLeftGroup ||=
        groupBy !== undefined &&
        groupBy !== 'parent' &&
        found.some(({ before, item }) => boardValue(before, groupBy) !== boardValue(item, groupBy))
      if (found.length > 0)
        store.dispatch(
          lookingApi.util.updateQueryData('items', args, (draft) => {
            for (const { pageAt, at, item } of found) {
              const page = draft.pages[pageAt]
              const known = page?.rows[at]?.parentKey
              // What an item is a part of is not among its own fields.
              if (page) page.rows[at] = known === undefined ? item : { ...item, parentKey: known }
            }
          }),
        )
    }
  }
  return { hasLeftGroup }
}
