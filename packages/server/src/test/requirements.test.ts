import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
let wren: Ask

beforeAll(async () => {
  app = await startApp()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  for (const title of ['Recognise an open sensor', 'Say so on the panel'])
    expect((await ines('/items', { method: 'POST', body: { project: 'EMB', type: 'task', title, requirement: 'SAF-3' } })).status).toBe(201)
  await ines('/items', {
    method: 'POST',
    body: { project: 'EMB', type: 'task', title: 'Keys of the safe', isConfidential: true, requirement: 'SAF-3' },
  })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const read = async (ask = ines) => (await ask('/requirements/SAF-3')).body
const write = (body: object) => ines('/requirements/SAF-3', { method: 'PUT', body: { title: 'Sensor faults', ...body } })
const suspects = async (ask = ines): Promise<string[]> =>
  (await read(ask)).items
    .filter((item: { isSuspect: boolean }) => item.isSuspect)
    .map((item: { key: string }) => item.key)
    .sort()
const linkOf = async (key: string): Promise<string> => (await read()).items.find((item: { key: string }) => item.key === key).linkId
const confirm = (ask: Ask, body: object) => ask('/requirements/SAF-3/confirmations', { method: 'POST', body })

describe('a text that changes', () => {
  test('asks of what was tied to it whether it still holds; spelling alone does not, and cannot be claimed of a number', async () => {
    const minor = await write({ text: 'An open thermocouple shall be recognized within 10 s.', isMinor: true })
    expect(minor.body).toMatchObject({ revision: 2, suspects: 0 })
    expect((await write({ text: 'An open thermocouple shall be recognized within 5 s.', isMinor: true })).body.fields.isMinor).toContain(
      '“5”',
    )
    await write({ text: 'An open thermocouple shall be recognized within 5 s.', because: 'the limiter is slower than that' })
    expect(await read()).toMatchObject({
      revision: 3,
      revisions: [{ because: 'the limiter is slower than that', isMinor: false }, { isMinor: true }, { revision: 1 }],
    })
    expect(await suspects()).toEqual(['EMB-1', 'EMB-2', 'EMB-3'])
    expect(await suspects(wren)).toEqual(['EMB-1', 'EMB-2'])
  })

  test('is said to hold by who may change items, shown at both ends, and taken back', async () => {
    const linkIds = [await linkOf('EMB-1')]
    expect((await confirm(wren, { linkIds })).status).toBe(403)
    expect((await confirm(rafe, { linkIds })).status).toBe(200)
    expect(await suspects()).toEqual(['EMB-2', 'EMB-3'])
    const linkFrom = async (key: string) =>
      (await ines(`/items/${key}`)).body.links.find((link: { to: { id: string } }) => link.to.id === 'SAF-3')
    expect((await linkFrom('EMB-1')).isSuspect).toBe(false)
    expect((await linkFrom('EMB-2')).isSuspect).toBe(true)
    await confirm(rafe, { linkIds, revision: 2 })
    expect(await suspects()).toEqual(['EMB-1', 'EMB-2', 'EMB-3'])
  })

  test('a tie that is gone, or that the asker may not see, is not said to hold', async () => {
    expect((await confirm(ines, { linkIds: ['nothing'] })).status).toBe(409)
    expect((await confirm(rafe, { linkIds: [await linkOf('EMB-3')] })).status).toBe(409)
    expect((await confirm(ines, { linkIds: [await linkOf('EMB-1')], revision: 9 })).body.fields.revision).toContain('at revision 3')
  })
})

describe('gaps', () => {
  const gaps = async (ask = ines) => (await ask('/projects/EMB/gaps')).body
  const count = async (code: string) => (await gaps()).counts.find((one: { code: string }) => one.code === code)

  test('are told by kind: ties to look at, no test, items that nothing asked for', async () => {
    await ines('/items', { method: 'POST', body: { project: 'EMB', type: 'task', title: 'Nobody asked' } })
    const { rows } = await gaps()
    expect(rows.filter((gap: { id: string }) => gap.id === 'SAF-3').map((gap: { code: string }) => gap.code)).toEqual([
      'look-again',
      'without-test',
    ])
    expect(rows.find((gap: { code: string }) => gap.code === 'look-again').by).toEqual(['3'])
    expect(rows.some((gap: { id: string }) => gap.id === 'SAF-1')).toBe(false)
  })

  test('are agreed to with a reason until a day, and come back after it, or when that is taken back', async () => {
    const agree = (ask: Ask, body: object) => ask('/projects/EMB/gaps/agreements', { method: 'POST', body })
    expect((await agree(rafe, { code: 'without-test', id: 'SAF-3', reason: 'by hand' })).status).toBe(403)
    expect((await agree(ines, { code: 'without-test', id: 'SAF-3', reason: '' })).body.fields).toEqual({ reason: 'Say why' })
    const day = new Date(app.clock.nowMs + 3 * 86_400_000).toISOString().slice(0, 10)
    await agree(ines, { code: 'without-test', id: 'SAF-3', reason: 'checked by the installer', until: day })
    expect(await count('without-test')).toEqual({ code: 'without-test', open: 0, agreed: 1 })
    expect((await gaps()).rows.find((gap: { code: string }) => gap.code === 'without-test').agreed).toMatchObject({
      reason: 'checked by the installer',
      until: day,
    })
    app.clock.nowMs += 5 * 86_400_000
    expect(await count('without-test')).toEqual({ code: 'without-test', open: 1, agreed: 0 })
    app.clock.nowMs -= 5 * 86_400_000
    await ines('/projects/EMB/gaps/agreements?code=without-test&id=SAF-3', { method: 'DELETE' })
    expect(await count('without-test')).toEqual({ code: 'without-test', open: 1, agreed: 0 })
  })
})

describe('baselines', () => {
  const ask = (path: string, method = 'POST', body?: object, person = ines) =>
    person(`/projects/EMB/baselines${path}`, { method, ...(body && { body }) })
  const rows = async () => (await ines('/projects/EMB/baselines')).body.rows

  test('keep what stands under a name; people agree to it; it is held against its hash', async () => {
    expect((await ask('', 'POST', { name: '4.1' }, rafe)).status).toBe(403)
    expect((await ask('', 'POST', { name: '4.1', words: 'for the audit' })).status).toBe(201)
    expect((await ask('', 'POST', { name: '4.1' })).body.fields.name).toContain('called so')
    const [first] = await rows()
    expect(first).toMatchObject({ name: '4.1', requirements: 2, links: 3, isIntact: true, agreedBy: [], withdrawn: null })
    expect((await ask(`/${first.baselineId}/agreement`)).body.rows[0].agreedBy).toMatchObject([{ personId: 'ines' }])
    expect((await ask(`/${first.baselineId}/agreement`)).status).toBe(409)
    app.ctx.db.prepare(`UPDATE baseline SET snapshot = replace(snapshot, '"revision":3', '"revision":2')`).run()
    expect((await rows())[0].isIntact).toBe(false)
    app.ctx.db.prepare(`UPDATE baseline SET snapshot = replace(snapshot, '"revision":2', '"revision":3')`).run()
    expect((await rows())[0].isIntact).toBe(true)
  })

  test('are compared with what stands now and with each other, without what the asker may not see', async () => {
    const [first] = await rows()
    await write({ text: 'An open thermocouple shall be recognized within 4 s.', because: 'measured' })
    await ines('/projects/EMB/requirements', {
      method: 'POST',
      body: { prefix: 'SAF', title: 'Doors', text: 'A door shall stop the heat.' },
    })
    await ines('/items', { method: 'POST', body: { project: 'EMB', type: 'task', title: 'Door switch', requirement: 'SAF-4' } })
    const since = (await ines(`/projects/EMB/baselines/${first.baselineId}/comparison`)).body
    expect(since).toMatchObject({
      from: '4.1',
      to: null,
      added: [{ key: 'SAF-4', title: 'Doors' }],
      changed: [
        {
          key: 'SAF-3',
          fromRevision: 3,
          toRevision: 4,
          before: expect.stringContaining('5 s'),
          after: expect.stringContaining('4 s'),
          because: 'measured',
        },
      ],
      linksAdded: [{ kind: 'implements', requirement: 'SAF-4' }],
      linksRemoved: [],
    })
    app.clock.nowMs += 1000
    await ask('', 'POST', { name: '4.2' })
    const [second] = await rows()
    const back = (await wren(`/projects/EMB/baselines/${second.baselineId}/comparison?with=${first.baselineId}`)).body
    expect(back).toMatchObject({ from: '4.2', to: '4.1', removed: [{ key: 'SAF-4' }], linksRemoved: [{ requirement: 'SAF-4' }] })
    expect((await ines('/projects/EMB/baselines/none/comparison')).status).toBe(404)
  })

  test('are withdrawn with a reason, and stay readable', async () => {
    const [second] = await rows()
    expect((await ask(`/${second.baselineId}/withdrawal`, 'POST', { words: 'made too early' })).body.rows[0].withdrawn).toBe(
      'made too early',
    )
    expect((await ask(`/${second.baselineId}/agreement`)).status).toBe(409)
    expect((await ines(`/projects/EMB/baselines/${second.baselineId}/comparison`)).status).toBe(200)
  })
})

describe('the report for an audit', () => {
  const get = async (form: string, token = 'read', query = '') => {
    const answer = await fetch(`${app.url}/api/v1/projects/EMB/audit-report.${form}${query}`, {
      headers: { authorization: `Bearer ${app.token(token as 'read')}` },
    })
    return { status: answer.status, type: answer.headers.get('content-type') ?? '', body: Buffer.from(await answer.arrayBuffer()) }
  }

  test('says how each requirement stands and by what, as JSON, table and page; nothing of what the asker may not see', async () => {
    const report = (await ines('/projects/EMB/audit-report.json')).body
    const audited = report.requirements.find(({ key }: { key: string }) => key === 'SAF-3')
    expect(audited.items.map(({ key }: { key: string }) => key)).toEqual(['EMB-1', 'EMB-2', 'EMB-3'])
    expect(report.coverage.reduce((sum: number, { requirements }: { requirements: number }) => sum + requirements, 0)).toBe(
      report.requirements.filter(({ isHeading }: { isHeading: boolean }) => !isHeading).length,
    )
    const mine = (await wren('/projects/EMB/audit-report.json')).body
    expect(JSON.stringify(mine)).not.toMatch(/EMB-3|Keys of the safe/)
    const table = await get('csv')
    expect(table.type).toContain('text/csv')
    expect(table.body.toString()).toMatch(/^requirement,revision,title,state,item,/)
    const page = await get('html')
    expect(page.type).toContain('text/html')
    expect(page.body.toString()).toContain('Coverage by chapter')
    expect(page.body.toString()).not.toContain('Keys of the safe')
    expect((await get('html', 'read', '?against=nothing')).status).toBe(404)
  })

  test('tells what changed since a baseline', async () => {
    await ines('/projects/EMB/baselines', { method: 'POST', body: { name: 'Before the audit' } })
    const { rows } = (await ines('/projects/EMB/baselines')).body
    const { baselineId } = rows.find(({ name }: { name: string }) => name === 'Before the audit')
    await write({ text: 'An open thermocouple shall be recognized within 3 s.', because: 'a faster probe' })
    const { changes } = (await ines(`/projects/EMB/audit-report.json?against=${baselineId}`)).body
    expect(changes.from).toBe('Before the audit')
    expect(changes.changed).toMatchObject([{ key: 'SAF-3', because: 'a faster probe' }])
    expect((await get('html', 'read', `?against=${baselineId}`)).body.toString()).toContain('Changes since Before the audit')
  })

  test('is printed as PDF where there is something to print it with', async () => {
    const { status, type, body } = await get('pdf')
    if (status === 404) expect(body.toString()).toContain('print it from your browser')
    else {
      expect(type).toContain('application/pdf')
      expect(body.subarray(0, 5).toString()).toBe('%PDF-')
    }
  }, 60_000)
})

describe('the document', () => {
  const begin = (body: object) => ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'DOC', ...body } })
  const order = async () =>
    (await ines('/requirements')).body.rows
      .filter((row: { key: string }) => row.key.startsWith('DOC-'))
      .map((row: { key: string; parent: string | null }) => [row.key, row.parent])
  const act = (key: string, deed: 'split' | 'join', body: object, ask = ines) =>
    ask(`/requirements/${key}/${deed}`, { method: 'POST', body })

  test('takes a new one right behind another, on its level', async () => {
    await begin({ title: 'Doors', isHeading: true })
    await begin({ title: 'The door locks', text: 'The door locks. It tells why it does.', parent: 'DOC-1' })
    await begin({ title: 'The door is warm', text: 'It is warm.', parent: 'DOC-1' })
    expect((await begin({ title: 'The door shines', after: 'DOC-2' })).body).toMatchObject({ key: 'DOC-4', parent: 'DOC-1' })
    expect(await order()).toEqual([
      ['DOC-1', null],
      ['DOC-2', 'DOC-1'],
      ['DOC-4', 'DOC-1'],
      ['DOC-3', 'DOC-1'],
    ])
    expect((await begin({ title: 'Nowhere', after: 'DOC-99' })).body.fields.after).toContain('no requirement DOC-99')
  })

  test('splits one where it is said: what was tied to it asks to be looked at, the rest stands right behind', async () => {
    const made = await ines('/items', { method: 'POST', body: { project: 'EMB', title: 'Lock the door', requirement: 'DOC-2' } })
    const split = { text: 'The door locks.', rest: 'It tells why it does.', revision: 1 }
    expect((await act('DOC-2', 'split', split, wren)).status).toBe(403)
    expect((await act('DOC-2', 'split', { ...split, rest: ' ' })).body.fields.rest).toContain('Something has to go')
    const two = await act('DOC-2', 'split', split)
    expect(two).toMatchObject({ status: 201, body: { key: 'DOC-5', title: 'It tells why it does', parent: 'DOC-1', revision: 1 } })
    expect((await ines('/requirements/DOC-2')).body).toMatchObject({ text: 'The door locks.', revision: 2, suspects: 1 })
    expect((await ines('/requirements/DOC-2')).body.items[0]).toMatchObject({ key: made.body.key, isSuspect: true })
    expect((await order()).map(([key]: [string]) => key)).toEqual(['DOC-1', 'DOC-2', 'DOC-5', 'DOC-4', 'DOC-3'])
    // Somebody wrote it anew meanwhile.
    expect((await act('DOC-2', 'split', split)).status).toBe(412)
  })

  test('joins one to another: the text goes there with all that stands below, and it is retired with the reason', async () => {
    await begin({ title: 'In Welsh, too', text: 'In Welsh, too.', parent: 'DOC-5' })
    const join = { to: 'DOC-2', revision: 1, toRevision: 2 }
    expect((await act('DOC-5', 'join', { ...join, to: 'DOC-1', toRevision: 1 })).body.fields.to).toContain('heading')
    expect((await act('DOC-5', 'join', { ...join, to: 'DOC-6', toRevision: 1 })).body.fields.to).toContain('stands below it')
    expect((await act('DOC-5', 'join', { ...join, toRevision: 1 })).status).toBe(412)
    expect((await act('DOC-5', 'join', join)).body).toMatchObject({
      key: 'DOC-2',
      text: 'The door locks.\nIt tells why it does.',
      revision: 3,
      children: ['DOC-6'],
    })
    expect((await ines('/requirements/DOC-5')).body).toMatchObject({ isRetired: true, retiredWords: 'joined to DOC-2' })
    expect((await act('DOC-5', 'join', { ...join, toRevision: 3 })).body.detail).toContain('DOC-5 is retired')
  })
})
