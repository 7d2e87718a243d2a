import { boardValue, type BoardField } from '@dystracer/core/board/board'
import type { LiveMessage } from '@dystracer/core/contract/overview'
import { api, type ItemsArgs } from './api'
import { itemChanged, liveChanged, store } from './store'

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
const GATHER_MS = 60

/** Follows the live stream: patches the rows of items at once, and fetches anew what else changed, several events in one go. Gives the function that ends it. */
export function followLive(): () => void {
  let waiting = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
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
    const message = JSON.parse(event.data) as LiveMessage
    const { hasLeftGroup } = patchItem(message)
    if (hasLeftGroup) note('Items')
    // A link concerns both of its ends.
    for (const subject of message.subjects) if (subject.startsWith('item:')) note({ type: 'Item', id: subject.slice(5) })
    if (message.item) {
      note('Thread')
      note('Overview')
      if (CHANGES_LISTS.has(message.kind)) note('Items')
      if (CHANGES_QUEUE.has(message.kind)) note('Triage')
    }
    for (const subject of message.subjects) for (const tag of TAGS_BY_SUBJECT[subject.slice(0, subject.indexOf(':'))] ?? []) note(tag)
    if (message.kind === 'deployment-asked') note('Overview')
    const isMine = message.subjects.some((subject) => subject.startsWith('person:'))
    if (isMine && (message.kind.startsWith('notices-') || message.kind === 'person-notified')) {
      note('Notice')
      note('Overview')
    }
    if (isMine && HAND_EVENTS.has(message.kind)) note('Hand')
    if (message.subjects.some((subject) => subject.startsWith('project:'))) {
      note('Me')
      note('Routing')
      note('Views')
    }
  })
  return () => {
    clearTimeout(timer)
    stream.close()
  }
}

/** Puts an item as it is now into all that is on screen. In a list of groups it keeps its place; `hasLeftGroup` tells where it belongs into another one. */
function patchItem({ item, seq, ladder }: LiveMessage): { hasLeftGroup: boolean } {
  let hasLeftGroup = false
  if (!item) return { hasLeftGroup }
  store.dispatch(itemChanged({ key: item.key, seq }))
  // The open pane's ladder moves with the message; what else changed is fetched behind it.
  if (ladder) store.dispatch(api.util.updateQueryData('item', item.key, (draft) => void Object.assign(draft, item, { ladder })))
  for (const { endpointName, originalArgs } of api.util.selectInvalidatedBy(store.getState(), ['Items', 'LongItems'])) {
    if (endpointName === 'boardItems') {
      store.dispatch(
        api.util.updateQueryData('boardItems', originalArgs as { filter: string; sort: string; limit: number }, (draft) => {
          const at = draft.rows.findIndex((row) => row.key === item.key)
          if (at >= 0) draft.rows[at] = item
        }),
      )
    }
    if (endpointName === 'outline') {
      store.dispatch(
        api.util.updateQueryData('outline', originalArgs as { filter: string; sort: string }, (draft) => {
          const entry = draft.rows.find((row) => row.item.key === item.key)
          if (entry) entry.item = item
        }),
      )
    }
    if (endpointName === 'items') {
      store.dispatch(
        api.util.updateQueryData('items', originalArgs as ItemsArgs, (draft) => {
          const groupBy = (originalArgs as ItemsArgs).groupBy as BoardField | undefined
          for (const page of draft.pages) {
            const at = page.rows.findIndex((row) => row.key === item.key)
            const before = page.rows[at]
            if (!before) continue
            hasLeftGroup ||= groupBy !== undefined && boardValue(before, groupBy) !== boardValue(item, groupBy)
            page.rows[at] = item
          }
        }),
      )
    }
  }
  return { hasLeftGroup }
}
