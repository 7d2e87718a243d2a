import { type ItemsArgs, lookingApi } from '#features/looking/looking.api'
import '#shared/test/browser-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { LiveMessage } from '@dystracer/core/desk/wire'
import { anItem } from '#shared/test/an-item'
import { itemsApi } from '#features/items/items.api'
import { deskApi } from '#features/desk/desk.api'
import { api, LONG_LIST_PAGES } from '#shared/lib/api'
import { followLive } from './live'
import { store } from '#shared/lib/store'

/** A stream whose messages the test sends. */
class FakeStream {
  static readonly CLOSED = 2
  static last: FakeStream
  readyState = 1
  readonly url: string
  isClosed = false
  readonly #listeners = new Map<string, ((event: unknown) => void)[]>()
  constructor(url: string) {
    this.url = url
    FakeStream.last = this
  }
  addEventListener(name: string, listener: (event: unknown) => void): void {
    this.#listeners.set(name, [...(this.#listeners.get(name) ?? []), listener])
  }
  emit(name: string, data?: unknown, lastEventId = ''): void {
    for (const listener of this.#listeners.get(name) ?? []) listener({ data: JSON.stringify(data), lastEventId })
  }
  close(): void {
    this.isClosed = true
  }
}

/** What the server answers, by the beginning of the address; and what it was asked, in order. */
let answers: Record<string, unknown> = {}
let asked: string[] = []
let leave: (() => void)[] = []
let end: () => void

beforeEach(() => {
  asked = []
  leave = []
  answers = {}
  Object.defineProperty(globalThis, 'EventSource', { value: FakeStream, configurable: true })
  Object.defineProperty(globalThis, 'fetch', {
    value: (url: string) => {
      asked.push(url)
      const known = Object.keys(answers).find((start) => url.startsWith(`/api/v1${start}`))
      return Promise.resolve(new Response(JSON.stringify(known === undefined ? {} : answers[known]), { status: 200 }))
    },
    configurable: true,
  })
  end = followLive()
})
afterEach(() => {
  end()
  for (const close of leave) close()
  store.dispatch(api.util.resetApiState())
})

const message = (given: Partial<LiveMessage>): LiveMessage => ({
  seq: 7,
  kind: 'item-changed',
  atMs: 0,
  subjects: [],
  item: null,
  ladder: null,
  ...given,
})
const send = (given: Partial<LiveMessage>) => FakeStream.last.emit('message', message(given))
/** Longer than events are gathered for. */
const gathered = () => new Promise((resolve) => setTimeout(resolve, 150))

async function openList(rows: ItemSummary[], groupBy?: ItemsArgs['groupBy']): Promise<() => ItemSummary[]> {
  answers['/items?'] = { rows, nextCursor: null }
  const args = { filter: 'open', sort: 'worst' as const, ...(groupBy && { groupBy }) }
  const opened = store.dispatch(lookingApi.endpoints.items.initiate(args))
  leave.push(() => opened.unsubscribe())
  await opened
  asked = []
  return () =>
    lookingApi.endpoints.items
      .select(args)(store.getState())
      .data?.pages.flatMap((page) => page.rows) ?? []
}

describe('the live stream', () => {
  test('tells whether it is there', () => {
    expect(FakeStream.last.url).toBe('/api/v1/live')
    FakeStream.last.emit('open')
    expect(store.getState().shell.live).toBe('live')
    FakeStream.last.emit('error')
    expect(store.getState().shell.live).toBe('lost')
  })

  test('that broke off is left to the browser; one that was refused is asked for again, from the last event', () => {
    jest.useFakeTimers()
    try {
      const first = FakeStream.last
      first.emit('hello', {}, '40')
      first.emit('error')
      jest.advanceTimersByTime(60_000)
      expect(FakeStream.last).toBe(first)
      first.emit('message', message({ seq: 41 }), '41')
      Object.assign(first, { readyState: FakeStream.CLOSED })
      first.emit('error')
      jest.advanceTimersByTime(60_000)
      expect(FakeStream.last).not.toBe(first)
      expect(FakeStream.last.url).toBe('/api/v1/live?cursor=41')
    } finally {
      jest.useRealTimers()
    }
  })

  test('puts a changed item into the list at once, in its place, and asks for nothing of the list', async () => {
    const rows = await openList([anItem({ key: 'EMB-1' }), anItem({ key: 'EMB-2' })])
    send({ item: anItem({ key: 'EMB-2', title: 'Shelf light is out' }), subjects: ['item:EMB-2'] })
    expect(rows().map((row) => row.title)).toEqual(['Shelf light flickers', 'Shelf light is out'])
    expect(store.getState().shell.changedKeys['EMB-2']).toBe(7)
    await gathered()
    expect(asked.filter((url) => url.startsWith('/api/v1/items?'))).toEqual([])
  })

  test('reads a list of groups again when an item went into another group, and only then', async () => {
    const rows = await openList([anItem({ key: 'EMB-1', ownerId: 'mara' }), anItem({ key: 'EMB-2', ownerId: 'mara' })], 'owner')
    send({ item: anItem({ key: 'EMB-1', ownerId: 'mara', title: 'Still hers' }), subjects: ['item:EMB-1'] })
    await gathered()
    expect(asked).toEqual([])
    send({ item: anItem({ key: 'EMB-1', ownerId: 'tam' }), subjects: ['item:EMB-1'] })
    expect(rows()[0]?.ownerId).toBe('tam')
    await gathered()
    expect(asked.filter((url) => url.startsWith('/api/v1/items?'))).toHaveLength(1)
  })

  test('reads the list again when an item was logged; a burst of events asks once', async () => {
    await openList([anItem()])
    for (let number = 2; number < 40; number++)
      send({ kind: 'item-logged', item: anItem({ key: `EMB-${number}` }), subjects: [`item:EMB-${number}`], seq: number })
    await gathered()
    expect(asked.filter((url) => url.startsWith('/api/v1/items?'))).toHaveLength(1)
  })

  test('puts what changed into a long list and reads none of its pages again; a gap in the stream does', async () => {
    const args = { filter: 'open', sort: 'worst' as const }
    const page = (number: number) => ({ rows: [anItem({ key: `EMB-${number}` })], nextCursor: `after ${number}` })
    answers['/items?'] = page(1)
    const opened = store.dispatch(lookingApi.endpoints.items.initiate(args))
    leave.push(() => opened.unsubscribe())
    await opened
    for (let number = 2; number <= LONG_LIST_PAGES + 1; number++) {
      answers['/items?'] = page(number)
      await store.dispatch(lookingApi.endpoints.items.initiate(args, { direction: 'forward', subscribe: false }))
    }
    const pages = () => lookingApi.endpoints.items.select(args)(store.getState()).data?.pages ?? []
    expect(pages()).toHaveLength(LONG_LIST_PAGES + 1)
    asked = []
    send({ kind: 'item-logged', item: anItem({ key: 'EMB-99' }), subjects: ['item:EMB-99'] })
    send({ item: anItem({ key: 'EMB-4', title: 'Brighter now' }), subjects: ['item:EMB-4'] })
    await gathered()
    expect(asked).toEqual([])
    expect(pages()[3]?.rows[0]?.title).toBe('Brighter now')
    FakeStream.last.emit('reset')
    await gathered()
    expect(asked).toHaveLength(LONG_LIST_PAGES + 1)
  })

  test('draws the first of a flood at once and the rest in a few goes, the newest of each item last', async () => {
    const rows = await openList(Array.from({ length: 50 }, (_, at) => anItem({ key: `EMB-${at}` })))
    let drawn = 0
    const end = store.subscribe(() => drawn++)
    for (let turn = 1; turn <= 20; turn++)
      for (let at = 0; at < 50; at++)
        send({ item: anItem({ key: `EMB-${at}`, title: `Turn ${turn}` }), subjects: [`item:EMB-${at}`], seq: turn * 50 + at })
    expect(rows()[0]?.title).toBe('Turn 1')
    expect(rows()[1]?.title).toBe('Shelf light flickers')
    await gathered()
    end()
    expect(rows().map((row) => row.title)).toEqual(Array.from({ length: 50 }, () => 'Turn 20'))
    expect(drawn).toBeLessThan(20)
    expect(store.getState().shell.changedKeys['EMB-49']).toBe(1049)
  })

  test('asks for nothing that no screen shows', async () => {
    send({ kind: 'item-logged', item: anItem(), subjects: ['item:EMB-1', 'fault:F-3', 'release:a@1', 'project:EMB', 'person:ines'] })
    await gathered()
    expect(asked).toEqual([])
  })

  test('moves the ladder of the open item with the message', async () => {
    answers['/items/EMB-1'] = { ...anItem(), ladder: { stage: 'logged', treads: [], hasComeBack: false, disposition: null, drift: [] } }
    const opened = store.dispatch(itemsApi.endpoints.item.initiate('EMB-1'))
    leave.push(() => opened.unsubscribe())
    await opened
    const ladder = { stage: 'merged' as const, treads: [], hasComeBack: false, disposition: null, drift: [] }
    send({ kind: 'ladder-moved', item: anItem({ stage: 'merged' }), ladder, subjects: ['item:EMB-1'] })
    expect(itemsApi.endpoints.item.select('EMB-1')(store.getState()).data).toMatchObject({ stage: 'merged', ladder: { stage: 'merged' } })
  })

  test('tells of notices to the one who is told, and to nobody else', async () => {
    answers['/places'] = {}
    const opened = store.dispatch(deskApi.endpoints.places.initiate())
    leave.push(() => opened.unsubscribe())
    await opened
    asked = []
    send({ kind: 'person-notified', subjects: ['item:EMB-1'] })
    await gathered()
    expect(asked).toEqual([])
    send({ kind: 'person-notified', subjects: ['item:EMB-1', 'person:ines'] })
    await gathered()
    expect(asked).toEqual(['/api/v1/places'])
  })

  test('reads everything on screen again after a gap', async () => {
    await openList([anItem()])
    FakeStream.last.emit('reset')
    await gathered()
    expect(asked.filter((url) => url.startsWith('/api/v1/items?'))).toHaveLength(1)
  })

  test('ends when it is left, with nothing asked afterwards', async () => {
    await openList([anItem()])
    send({ kind: 'item-logged', item: anItem(), subjects: ['item:EMB-1'] })
    end()
    expect(FakeStream.last.isClosed).toBe(true)
    await gathered()
    expect(asked).toEqual([])
  })

  test('a server that does not answer is a problem in words', async () => {
    Object.defineProperty(globalThis, 'fetch', { value: jest.fn(() => Promise.reject(new TypeError('fetch failed'))), configurable: true })
    const opened = store.dispatch(itemsApi.endpoints.item.initiate('EMB-9'))
    leave.push(() => opened.unsubscribe())
    expect((await opened).error).toMatchObject({ code: 'unreachable', status: 0, detail: 'fetch failed' })
  })
})
