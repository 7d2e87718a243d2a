import { boardValue, type BoardField } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { LiveMessage } from '@dystracer/core/desk/wire'
import { api, type ItemsArgs } from './api'
import { itemsChanged, liveChanged, store } from './store'

type Tag = Parameters<typeof api.util.invalidateTags>[0][number]

/** Which cached answers an event may have changed, by the kind of its subjects. */
const TAGS_BY_SUBJECT: Record<string, Tag[]> = {
  fault: ['Fault'],
  branch: ['Code'],
  repository: ['Code'],
  'pull-request': ['Code'],
  commit: [],
  build: ['Build', 'Code'],
  release: ['Release'],
  environment: ['Release'],
  requirement: ['Requirement'],
}
const CHANGES_LISTS = new Set(['item-logged', 'item-accepted', 'item-rejected', 'acceptance-withdrawn'])
/** After these the queue of decisions is another one. */
const CHANGES_QUEUE = new Set([
  ...CHANGES_LISTS,
  'item-changed',
  'item-reopened',
  'reporter-asked',
  'reporter-answered',
  'asking-ended',
  'ladder-moved',
])
const HAND_EVENTS = new Set(['taken-in-hand', 'parked', 'put-down', 'hand-time-booked'])
/** Events of one write come together: what they make stale is fetched once. */
const GATHER_MS = 60
/** A first event shows at once; those that follow it this closely show together, and in a flood (an import, a bulk change) a few times a second. */
const PATCH_MS = 30
const FLOOD_PATCH_MS = 300
const FLOOD = 20

/** Follows the live stream: patches the rows of items at once, and fetches anew what else changed, several events in one go. Gives the function that ends it. */
export function followLive(): () => void {
  let waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  let patchTimer: ReturnType<typeof setTimeout> | undefined
  let pending: LiveMessage[] = []
  const stream = new EventSource('/api/v1/live')
  const flush = () => {
    timer = undefined
    const tags = [...waiting].map((tag) => JSON.parse(tag) as Tag)
    waiting = new Set()
    store.dispatch(api.util.invalidateTags(tags))
  }
  const note = (tag: Tag) => {
    waiting.add(JSON.stringify(tag))
    timer ??= setTimeout(flush, GATHER_MS)
  }
  const patch = () => {
    patchTimer = undefined
    if (pending.length === 0) return
    const messages = pending
    pending = []
    const { hasLeftGroup } = patchItems(messages)
    if (hasLeftGroup) note('Items')
    for (const message of messages) for (const tag of staleTags(message)) note(tag)
    patchTimer = setTimeout(patch, messages.length > FLOOD ? FLOOD_PATCH_MS : PATCH_MS)
  }
  stream.addEventListener('open', () => store.dispatch(liveChanged('live')))
  stream.addEventListener('error', () => store.dispatch(liveChanged('lost')))
  stream.addEventListener('reset', () =>
    store.dispatch(
      api.util.invalidateTags([
        'Overview',
        'Triage',
        'Notice',
        'Hand',
        'Items',
        'LongItems',
        'Item',
        'Fault',
        'Code',
        'Build',
        'Release',
        'Requirement',
        'Thread',
      ]),
    ),
  )
  stream.addEventListener('message', (event: MessageEvent<string>) => {
    pending.push(JSON.parse(event.data) as LiveMessage)
    if (patchTimer === undefined) patch()
  })
  return () => {
    clearTimeout(timer)
    clearTimeout(patchTimer)
    stream.close()
  }
}

/** Which cached answers a message makes stale. */
function staleTags({ kind, item, subjects }: LiveMessage): Tag[] {
  const isMine = subjects.some((subject) => subject.startsWith('person:'))
  return [
    // A link concerns both of its ends.
    ...subjects.flatMap((subject): Tag[] => (subject.startsWith('item:') ? [{ type: 'Item', id: subject.slice(5) }] : [])),
    ...(item ? (['Thread', 'Overview'] as const) : []),
    ...(item && CHANGES_LISTS.has(kind) ? (['Items'] as const) : []),
    ...(item && CHANGES_QUEUE.has(kind) ? (['Triage'] as const) : []),
    ...subjects.flatMap((subject) => TAGS_BY_SUBJECT[subject.slice(0, subject.indexOf(':'))] ?? []),
    ...(kind === 'deployment-asked' ? (['Overview'] as const) : []),
    ...(isMine && (kind.startsWith('notices-') || kind === 'person-notified') ? (['Notice', 'Overview'] as const) : []),
    ...(isMine && HAND_EVENTS.has(kind) ? (['Hand'] as const) : []),
    ...(subjects.some((subject) => subject.startsWith('project:')) ? (['Me', 'Routing', 'Views'] as const) : []),
  ]
}

/** Puts items as they are now into all that is on screen, each list in one go. In a list of groups they keep their places; `hasLeftGroup` tells where one belongs into another group. */
function patchItems(messages: readonly LiveMessage[]): { hasLeftGroup: boolean } {
  let hasLeftGroup = false
  const byKey = new Map<string, ItemSummary>()
  const changed: Record<string, number> = {}
  for (const { item, seq, ladder } of messages) {
    if (!item) continue
    byKey.set(item.key, item)
    changed[item.key] = seq
    // The open pane's ladder moves with the message; what else changed is fetched behind it.
    if (ladder) store.dispatch(api.util.updateQueryData('item', item.key, (draft) => void Object.assign(draft, item, { ladder })))
  }
  if (byKey.size === 0) return { hasLeftGroup }
  store.dispatch(itemsChanged(changed))
  /** Where the changed items stand in a list, and what they are now. Read from the list itself: a draft makes a copy of each row that is looked at. */
  const places = (rows: readonly ItemSummary[]) =>
    rows.flatMap((row, at) => {
      const item = byKey.get(row.key)
      return item ? [{ at, before: row, item }] : []
    })
  for (const { endpointName, originalArgs } of api.util.selectInvalidatedBy(store.getState(), ['Items', 'LongItems'])) {
    if (endpointName === 'boardItems') {
      const args = originalArgs as { filter: string; sort: string; limit: number }
      const found = places(api.endpoints.boardItems.select(args)(store.getState()).data?.rows ?? [])
      if (found.length > 0)
        store.dispatch(
          api.util.updateQueryData('boardItems', args, (draft) => {
            for (const { at, item } of found) draft.rows[at] = item
          }),
        )
    }
    if (endpointName === 'outline') {
      const args = originalArgs as { filter: string; sort: string }
      const found = places((api.endpoints.outline.select(args)(store.getState()).data?.rows ?? []).map((entry) => entry.item))
      if (found.length > 0)
        store.dispatch(
          api.util.updateQueryData('outline', args, (draft) => {
            for (const { at, item } of found) Object.assign(draft.rows[at] ?? {}, { item })
          }),
        )
    }
    if (endpointName === 'items') {
      const args = originalArgs as ItemsArgs
      const groupBy = args.groupBy as BoardField | undefined
      const pages = api.endpoints.items.select(args)(store.getState()).data?.pages ?? []
      const found = pages.flatMap((page, pageAt) => places(page.rows).map((place) => ({ ...place, pageAt })))
      hasLeftGroup ||= groupBy !== undefined && found.some(({ before, item }) => boardValue(before, groupBy) !== boardValue(item, groupBy))
      if (found.length > 0)
        store.dispatch(
          api.util.updateQueryData('items', args, (draft) => {
            for (const { pageAt, at, item } of found) {
              const page = draft.pages[pageAt]
              if (page) page.rows[at] = item
            }
          }),
        )
    }
  }
  return { hasLeftGroup }
}
