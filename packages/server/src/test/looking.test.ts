import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import papaparse from 'papaparse'
import { boardValue } from '@dystracer/core/board/board'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { Filter } from '@dystracer/core/filter/filter'
import { meetsFilter, type FilteredItem } from '@dystracer/core/filter/evaluate-filter'
import { parseFilter } from '@dystracer/core/filter/parse-filter'
import { printFilter } from '@dystracer/core/filter/print-filter'
import { GROUP_FIELDS, ITEM_SORTS } from '@dystracer/core/looking/orders'
import { printValues } from '@dystracer/core/looking/value-list'
import { listItems } from '#subjects/looking/looking.views'
import { verifyTables } from '#verify-tables'
import { PEOPLE, startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const items: FilteredItem[] = []
const WORDS = ['relay', 'door', 'kiln', 'lamp', 'probe']
const MILESTONES = [null, '4.1', 'spring tide']
const DAY_MS = 86_400_000
/** A project's own fields, by which lists are grouped as by any other. */
const OWN_PLACES = ['own.zone', 'own.cone', 'own.seen'] as const

beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
  await makeItems()
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })

/** Fifty items whose fields follow from their number, made by the ordinary commands; what they hold then is read back through the API. */
async function makeItems(): Promise<void> {
  const start = app.clock.nowMs
  const ownFields = [
    { fieldId: 'zone', name: 'Zone', kind: 'one-of', choices: ['door', 'chimney'] },
    { fieldId: 'cone', name: 'Cone', kind: 'number' },
    { fieldId: 'seen', name: 'Seen by', kind: 'several-of', choices: ['potter', 'engineer'] },
  ]
  for (const field of ownFields) expect((await put(ines, '/projects/EMB/fields', field)).status).toBe(200)
  for (let number = 0; number < 50; number++) {
    app.clock.nowMs = start - (50 - number) * DAY_MS
    const pick = <Value>(values: readonly Value[], step: number): Value => values[(number * step) % values.length] as Value
    const { body } = await post(number % 3 === 0 ? ines : rafe, '/items', {
      title: `${pick(WORDS, 2)} ${pick(WORDS, 3)}`,
      description: pick(['', 'the lamp glows', 'probe cold'], 1),
      type: pick(['defect', 'story', 'task'], 1),
      severity: pick([null, 1, 2, 3, 5], 2),
      component: pick([null, 'Kiln control'], 1),
      milestone: pick(MILESTONES, 1),
      labels: pick([[], ['safety'], ['Safety', 'winter']], 1),
      requirement: pick([null, 'SAF-3', null, 'SAF-1'], 1),
      ownerId: pick([null, 'ines', 'rafe'], 2),
      coOwnerIds: pick([[], [], ['ines']], 1),
      priority: pick([null, 'urgent', 'low'], 1),
      sprint: pick([null, '2026-24'], 1),
      dueOn: pick([null, '2026-01-05', '2031-02-03'], 1),
      foundIn: pick([null, 'kiln@4.1.3'], 1),
      points: pick([null, 1, 2.5, 13], 3),
      estimateMinutes: pick([null, 30, 240], 4),
      ownValues: {
        ...(number % 2 === 0 && { zone: pick(['door', 'chimney'], 3) }),
        ...(number % 3 === 0 && { cone: pick([6, 0.5, 10], 2), seen: pick([['potter'], ['potter', 'engineer']], 1) }),
      },
    })
    const key = body.key as string
    if (number % 5 === 0) await post(rafe, `/items/${key}/comments`, { text: 'Heard the relay click' })
    if (number % 4 === 1) await post(ines, `/items/${key}/accept`, { severity: 2 })
    if (number % 7 === 2) await post(ines, `/items/${key}/reject`, { disposition: 'deferred' })
    if (number % 6 === 3) await put(ines, `/items/${key}/follow`, { isOn: true })
    if (number % 9 === 4) await post(ines, `/items/${key}/verify`, { words: '' })
    if (number % 8 === 7) await post(rafe, `/items/EMB-${number}/links`, { kind: 'blocks', to: { kind: 'item', id: key } })
    if (number % 6 === 5) await post(rafe, `/items/${key}/links`, { kind: 'parent', to: { kind: 'item', id: 'EMB-3' } })
  }
  app.clock.nowMs = start
  for (let number = 1; number <= 50; number++) {
    const { body } = await ines(`/items/EMB-${number}`)
    const comments = (await ines(`/items/EMB-${number}/comments`)).body.rows.map((row: { text: string }) => row.text)
    const row = app.ctx.db.prepare<[string], { is_open: number }>('SELECT is_open FROM item WHERE key = ?').get(body.key)
    items.push({
      ...body,
      comments,
      requirements: body.links
        .filter((link: { to: { kind: string } }) => link.to.kind === 'requirement')
        .map((link: { to: { id: string } }) => link.to.id),
      fault: null,
      isOpen: row?.is_open === 1,
      isRejected: body.disposition !== null,
    })
  }
}

const comparison = fc.constantFrom('=', '!=', '<', '<=', '>', '>=') as fc.Arbitrary<'=' | '!=' | '<' | '<=' | '>' | '>='>
const equality = fc.constantFrom('=', '!=') as fc.Arbitrary<'=' | '!='>
const compareWith = (field: string, values: readonly string[], how: fc.Arbitrary<string> = equality) =>
  fc.record({
    kind: fc.constant('compare' as const),
    field: fc.constant(field),
    comparison: how,
    value: fc.constantFrom(...values),
  }) as fc.Arbitrary<Filter>
const leaf: fc.Arbitrary<Filter> = fc.oneof(
  fc
    .constantFrom(
      ...(['open', 'settled', 'rejected', 'mine', 'unowned', 'drift', 'back', 'blocked', 'overdue', 'followed', 'archived'] as const),
    )
    .map((flag): Filter => ({ kind: 'flag', flag })),
  compareWith('severity', ['1', '2', '3', '4'], comparison),
  compareWith('points', ['1', '3', '13'], comparison),
  compareWith('own.zone', ['door', 'Chimney', 'lid'], comparison),
  compareWith('own.cone', ['6', '0.5', '10', 'x'], comparison),
  compareWith('own.seen', ['potter', 'engineer'], comparison),
  compareWith('stage', ['logged', 'accepted', 'merged', 'verified'], comparison),
  compareWith('type', ['defect', 'Story', 'epic']),
  compareWith('owner', ['me', 'ines', 'Varga', 'nobody']),
  compareWith('reporter', ['me', 'rafe']),
  compareWith('component', ['kiln control', 'x']),
  compareWith('milestone', ['4.1', 'Spring tide']),
  compareWith('label', ['safety', 'winter', 'none']),
  compareWith('requirement', ['saf-3', 'SAF-1']),
  compareWith('priority', ['urgent', 'low']),
  compareWith('sprint', ['2026-24']),
  compareWith('release', ['kiln@4.1.3']),
  compareWith('key', ['emb-3', 'EMB-44']),
  compareWith('due', ['2026-01-05', '2030-01-01'], comparison),
  compareWith('created', ['7d', '30d', '2w'], fc.constantFrom('<', '<=', '>', '>=')),
  compareWith('updated', ['20d', '1d'], fc.constantFrom('<', '>=')),
  fc.constantFrom<Filter>(
    { kind: 'words', text: 'relay', isPhrase: false },
    { kind: 'words', text: 'lam', isPhrase: false },
    { kind: 'words', text: 'lamp glows', isPhrase: true },
    { kind: 'words', text: 'relay click', isPhrase: true },
    { kind: 'words', text: 'zebra', isPhrase: false },
  ),
)
const tree = fc.letrec<{ node: Filter }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small' },
    leaf,
    fc.record({ kind: fc.constant('not' as const), part: tie('node') }),
    fc.record({ kind: fc.constantFrom('and' as const, 'or' as const), parts: fc.array(tie('node'), { minLength: 2, maxLength: 3 }) }),
  ),
})).node

const LEAD = {
  actor: 'person:ines',
  personId: 'ines',
  roles: {},
  everywhere: 'lead',
  limits: null,
  via: 'session',
  scope: null,
  csrfToken: null,
  provenAtMs: null,
} as const
const byNumber = (a: string, b: string) => Number(a.slice(4)) - Number(b.slice(4))

describe('a filter', () => {
  test('finds by SQL what a slow reading of each item finds, on random filters', () => {
    const world = {
      nowMs: app.clock.nowMs,
      today: new Date(app.clock.nowMs).toISOString().slice(0, 10),
      personId: 'ines',
      nameOf: (personId: string) => PEOPLE[personId as keyof typeof PEOPLE]?.name ?? '',
    }
    fc.assert(
      fc.property(tree, (filter) => {
        const text = printFilter(filter)
        const mayBeArchived = /\barchived\b/.test(text)
        const expected = items
          .filter((item) => meetsFilter(filter, item, world) && (mayBeArchived || !item.isArchived))
          .map((item) => item.key)
        for (const sort of ITEM_SORTS) {
          const { rows, total } = listItems(app.ctx, LEAD, { filter: text, sort, limit: 100 })
          expect({ text, sort, total, keys: rows.map((row) => row.key).sort(byNumber) }).toEqual({
            text,
            sort,
            total: expected.length,
            keys: expected,
          })
        }
      }),
      { numRuns: 400 },
    )
  })

  test('finds words of comments, also of one that was edited', async () => {
    const key = (await post(rafe, '/items', { title: 'Quiet' })).body.key
    const { commentId } = (await post(rafe, `/items/${key}/comments`, { text: 'A marmalade smell' })).body
    const found = async (words: string) => (await ines(`/items?filter=${words}`)).body.rows.map((row: { key: string }) => row.key)
    expect(await found('marmalade')).toEqual([key])
    await rafe(`/items/${key}/comments/${commentId}`, { method: 'PATCH', body: { text: 'A honey smell', before: 'A marmalade smell' } })
    expect(await found('marmalade')).toEqual([])
    expect(await found('honey')).toEqual([key])
    await post(ines, `/items/${key}/reject`, { disposition: 'deferred' })
  })
})

describe('pages', () => {
  test('of every order and grouping are together the whole list once; groups stand in their order, with their counts', async () => {
    for (const sort of ITEM_SORTS)
      for (const groupBy of [undefined, ...GROUP_FIELDS, ...OWN_PLACES]) {
        const query = `filter=${encodeURIComponent(sort === 'best' ? 'relay' : '')}&sort=${sort}${groupBy ? `&groupBy=${groupBy}` : ''}`
        const whole = (await ines(`/items?${query}&limit=500`)).body
        const keys: string[] = []
        let cursor = ''
        do {
          const page = (await ines(`/items?${query}&limit=7&withTotal=false${cursor && `&cursor=${cursor}`}`)).body
          expect(page.total).toBeUndefined()
          keys.push(...page.rows.map((row: { key: string }) => row.key))
          cursor = page.nextCursor ?? ''
        } while (cursor !== '')
        expect({ query, keys }).toEqual({ query, keys: whole.rows.map((row: { key: string }) => row.key) })
        if (!groupBy) continue
        const counts = (await ines(`/items-counts?${query.replace(/&sort=\w+/, '')}`)).body
        const runs: { value: string; count: number }[] = []
        for (const row of whole.rows) {
          const value = boardValue(row, groupBy)
          if (runs.at(-1)?.value === value) (runs.at(-1) ?? { count: 0 }).count++
          else runs.push({ value, count: 1 })
        }
        expect({ query, counts }).toEqual({ query, counts: { total: whole.total, groups: runs } })
        const folded = runs.filter((_, at) => at % 2 === 0).map((run) => run.value)
        const rest = (await ines(`/items?${query}&limit=500&folded=${encodeURIComponent(printValues(folded))}`)).body
        const left = whole.rows.filter((row: ItemSummary) => !folded.includes(boardValue(row, groupBy)))
        expect({ query, rest: rest.rows, total: rest.total }).toEqual({ query, rest: left, total: whole.total })
      }
  })

  test('say what each item is a part of where that is asked for, and never one that the asker may not see', async () => {
    const part = (await post(rafe, '/items', { title: 'A part' })).body.key
    const secret = (await post(rafe, '/items', { title: 'Whole', isConfidential: true })).body.key
    await post(rafe, `/items/${part}/links`, { kind: 'parent', to: { kind: 'item', id: secret } })
    const rowOf = async (ask: Ask, more: string) =>
      (await ask(`/items?limit=500&${more}`)).body.rows.find((row: ItemSummary) => row.key === part)
    expect((await rowOf(rafe, 'withParents=true')).parentKey).toBe(secret)
    expect((await rowOf(rafe, '')).parentKey).toBeUndefined()
    expect((await rowOf(wren, 'withParents=true')).parentKey).toBeNull()
    const groups = (await wren('/items-counts?filter=&groupBy=parent')).body.groups.map((group: { value: string }) => group.value)
    expect(groups).toEqual(['EMB-3', ''])
    await post(ines, `/items/${part}/reject`, { disposition: 'deferred' })
  })

  test('of words are ranked: the title before the description, both before a comment; each says where the words stand', async () => {
    const log = async (title: string, description = '') => (await post(rafe, '/items', { title, description })).body.key as string
    const inComment = await log('A quiet one')
    await post(rafe, `/items/${inComment}/comments`, { text: 'Somebody spilled the celadon over the shelf' })
    const inText = await log('A stain', 'There is celadon on the floor, and it does not come off')
    const inTitle = await log('Celadon runs down', 'The glaze does not hold')
    const { rows } = (await ines('/items?filter=celad&sort=best')).body
    expect(rows.map((row: { key: string }) => row.key)).toEqual([inTitle, inText, inComment])
    const found = (await ines(`/items-found?filter=celad&keys=${rows.map((row: { key: string }) => row.key).join()}`)).body.rows
    const byKey = new Map(found.map((entry: { key: string }) => [entry.key, entry]))
    expect(byKey.get(inTitle)).toEqual({ key: inTitle, title: ['', 'Celadon', ' runs down'], excerpt: null, place: 'title' })
    expect(byKey.get(inText)).toMatchObject({ place: 'description', excerpt: ['There is ', 'celadon', expect.any(String)] })
    expect(byKey.get(inComment)).toMatchObject({ place: 'comment', excerpt: ['Somebody spilled the ', 'celadon', expect.any(String)] })
    const { hits } = (await ines('/search?q=celad')).body
    expect(hits.map((hit: { ref: { id: string } }) => hit.ref.id)).toEqual([inTitle, inText, inComment])
    expect(hits[2].found.excerpt[1]).toBe('celadon')
    for (const key of [inTitle, inText, inComment]) await post(ines, `/items/${key}/reject`, { disposition: 'deferred' })
  })
})

describe('an outline', () => {
  test('holds parts below what they are parts of; a parent that the filter leaves out comes along; a loop is refused', async () => {
    const log = async (title: string) => (await post(rafe, '/items', { title })).body.key as string
    const [epic, part, piece] = [await log('Outlined epic'), await log('Outlined part'), await log('Tiny piece')]
    const setParent = (key: string, parent: string | null) => post(rafe, `/items/${key}/parent`, { parent })
    await setParent(part, epic)
    await setParent(piece, epic)
    expect((await setParent(piece, part)).status).toBe(200)
    expect((await ines(`/items/${epic}`)).body.children.map((child: { key: string }) => child.key)).toEqual([part])
    expect((await setParent(epic, piece)).body).toMatchObject({ code: 'conflict', detail: expect.stringContaining('loop') })
    expect((await setParent(piece, 'EMB-9999')).body.code).toBe('not-found')
    const outline = async (filter: string) =>
      (await ines(`/items-outline?filter=${encodeURIComponent(filter)}`)).body.rows.map(
        (row: { item: { key: string }; parentKey: string | null; isContext: boolean }) => [row.item.key, row.parentKey, row.isContext],
      )
    expect(await outline('tiny')).toEqual([
      [piece, part, false],
      [epic, null, true],
      [part, epic, true],
    ])
    // A move from one to another is taken back as a whole.
    expect((await post(rafe, '/undo')).status).toBe(200)
    expect((await ines(`/items/${epic}`)).body.children.map((child: { key: string }) => child.key).sort()).toEqual([part, piece].sort())
    expect((await ines(`/items/${part}`)).body.children).toEqual([])
    await setParent(piece, null)
    expect(await outline('tiny')).toEqual([[piece, null, false]])
    for (const key of [epic, part, piece]) await post(ines, `/items/${key}/reject`, { disposition: 'deferred' })
  })
})

describe('saved views', () => {
  const names = async (ask: Ask) => (await ask('/projects/EMB/views')).body.rows.map((row: { name: string }) => row.name)

  test('are one’s own until they are shared; pinned ones come first in one’s own index', async () => {
    await put(rafe, '/projects/EMB/views', { name: 'Mine', filter: 'mine open', sort: 'worst', isPinned: false })
    const { body } = await put(rafe, '/projects/EMB/views', {
      name: 'Winter',
      filter: 'label=winter',
      sort: 'newest',
      columns: ['due', 'owner'],
      look: { layout: 'board', cards: 'owner', lanes: 'severity', widths: { due: 90 } },
      isShared: true,
    })
    const winter = body.rows.find((row: { name: string }) => row.name === 'Winter')
    expect(winter).toMatchObject({
      look: { layout: 'board', cards: 'owner', lanes: 'severity', widths: { due: 90 } },
      columns: ['due', 'owner'],
      isPinned: true,
      isShared: true,
      ownerId: 'rafe',
    })
    expect(await names(rafe)).toEqual(['Winter', 'Mine'])
    expect(await names(ines)).toEqual(['Winter'])
    await post(ines, `/projects/EMB/views/${winter.viewId}/pin`, { isPinned: true })
    expect((await put(wren, '/projects/EMB/views', { name: 'x', filter: '', sort: 'worst' })).body.code).toBe('not-allowed')
    const wrong = await put(rafe, '/projects/EMB/views', { name: 'x', filter: 'colour=red', sort: 'worst' })
    expect(wrong.body).toMatchObject({ code: 'filter-not-understood', facts: { from: 0, to: 6 } })
    const mine = (await rafe('/projects/EMB/views')).body.rows[1]
    expect((await ines(`/projects/EMB/views/${mine.viewId}`, { method: 'DELETE' })).body.code).toBe('not-found')
    expect((await ines(`/projects/EMB/views/${winter.viewId}`, { method: 'DELETE' })).body.rows).toEqual([])
    expect(await names(rafe)).toEqual(['Mine'])
  })
})

describe('out', () => {
  test('a view’s items as CSV and JSON Lines: all pages, formulas defused, only what the asker may see', async () => {
    const key = (await post(rafe, '/items', { title: '=SUM(A1:A9)', description: 'two\nlines, "quoted"', isConfidential: true })).body.key
    const csv = await ines('/items.csv?filter=sum')
    expect(csv.headers.get('content-disposition')).toContain('items.csv')
    const [row] = papaparse.parse<Record<string, string>>(csv.text, { header: true }).data
    expect(row).toMatchObject({ key, title: "'=SUM(A1:A9)", description: 'two\nlines, "quoted"', reporter: 'rafe' })
    expect((await wren('/items.csv?filter=sum')).text).not.toContain(key)
    const lines = (await ines('/items.jsonl?filter=&sort=newest')).text.trim().split('\n')
    expect(lines).toHaveLength(60)
    expect(JSON.parse(lines.find((line) => line.includes(`"${key}"`)) ?? '{}').title).toBe('=SUM(A1:A9)')
    expect((await ines('/items.csv?filter=colour%3Dred')).body.code).toBe('filter-not-understood')
  })

  test('a private link gives due days as iCalendar and what moved as Atom, as its owner sees it and no more', async () => {
    const { calendar, activity } = (await rafe(`/feed-links?filter=${encodeURIComponent('due>2030-01-01')}`)).body
    const pathOf = (url: string) => new URL(url).pathname
    const ics = await app.call(pathOf(calendar))
    expect(ics.headers.get('content-type')).toContain('text/calendar')
    expect(ics.text).toMatch(/^BEGIN:VCALENDAR\r\nVERSION:2.0/)
    expect(ics.text.match(/BEGIN:VEVENT/g)?.length).toBe(items.filter((item) => (item.dueOn ?? '') > '2030-01-01').length)
    expect(ics.text).toContain('DTSTART;VALUE=DATE:20310203')
    const atom = await app.call(pathOf(activity))
    expect(atom.text).toContain('<feed xmlns="http://www.w3.org/2005/Atom">')
    expect((await app.call(pathOf(activity).replace(/.(?=\.atom$)/, (char) => (char === 'A' ? 'B' : 'A')))).status).toBe(404)
    expect((await app.call('/feeds/nonsense.ics')).status).toBe(404)
  })
})

test('what is printed of a random filter is what the API understands', async () => {
  for (const filter of fc.sample(tree, 20)) expect(parseFilter(printFilter(filter))).toEqual({ filter })
})
