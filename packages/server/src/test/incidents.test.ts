import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { cloudEvent, connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

const HOUR_MS = 3_600_000
let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  repo.commit('src/kiln.js', 'one\n', 'Begin')
  for (const tag of ['v1.0.0', 'v1.1.0']) repo.git('tag', tag)
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await ines('/environments/production', { method: 'PUT', body: { kind: 'production', needsApproval: false, position: 1 } })
  await until('the releases are known', async () => (await ines('/releases')).body.services[0]?.releases.length === 2)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const incidents = '/projects/EMB/incidents'
const open = (body: object, ask = rafe) => ask(incidents, { method: 'POST', body: { title: 'Kilns stay cold', severity: 2, ...body } })
const tell = (type: string, id: string, own: object, atMs = app.clock.nowMs) =>
  app.call('/receive/cloudevents', {
    method: 'POST',
    raw: JSON.stringify(cloudEvent(type, id, own, atMs)),
    headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
  })
const deploy = (release: string, atMs: number) =>
  tell('dev.cdevents.service.deployed.0.2.0', `kiln-${release}`, { service: 'kiln', release, environment: 'production' }, atMs)

describe('an incident', () => {
  test('gathers what ran, was brought there and was noted; it ends, and goes on again', async () => {
    const startedAtMs = app.clock.nowMs - 2 * HOUR_MS
    await deploy('1.0.0', startedAtMs - 30 * HOUR_MS)
    await deploy('1.1.0', startedAtMs - HOUR_MS)
    const opened = await open({ service: 'kiln', startedAtMs, leadId: 'rafe' })
    expect([opened.status, opened.body.number, opened.body.leadId, opened.body.openedBy]).toEqual([201, 1, 'rafe', 'person:rafe'])
    const path = `${incidents}/1`
    await rafe(`${path}/notes`, { method: 'POST', body: { text: 'Relay checked: open', happenedAtMs: startedAtMs + HOUR_MS } })
    const read = (await wren(path)).body
    expect(read.entries.map((entry: { kind: string; about?: string; text?: string }) => entry.about ?? entry.text ?? entry.kind)).toEqual([
      'kiln@1.1.0',
      'began',
      'Relay checked: open',
    ])
    expect(read.releases).toMatchObject([{ release: 'kiln@1.1.0', toMs: null }])
    const early = await rafe(`${path}/end`, { method: 'PUT', body: { overAtMs: startedAtMs - 1 } })
    expect([early.status, early.body.fields]).toEqual([422, { overAtMs: 'That is before it began' }])
    expect((await ines('/places')).body.incidents).toBe(1)
    const ended = await rafe(`${path}/end`, { method: 'PUT', body: { overAtMs: startedAtMs + 90 * 60_000 } })
    expect(ended.body.entries.at(-1)).toEqual({ kind: 'over', atMs: startedAtMs + 90 * 60_000 })
    expect((await ines('/places')).body.incidents).toBe(0)
    expect((await rafe(`${path}/end`, { method: 'PUT', body: { overAtMs: null } })).body.overAtMs).toBeNull()
  })

  test('is changed field by field; what the project does not have is refused where it stands', async () => {
    const { number } = (await open({ title: 'Bookings twice' })).body
    const path = `${incidents}/${number}`
    const changed = await ines(path, { method: 'PATCH', body: { severity: 1, cause: 'Two hands at **once**.' } })
    expect(changed.body).toMatchObject({ title: 'Bookings twice', severity: 1, cause: 'Two hands at **once**.', service: null })
    const wrong = await ines(path, { method: 'PATCH', body: { service: 'moon' } })
    expect([wrong.status, wrong.body.fields]).toEqual([422, { service: 'EMB has no service moon' }])
    expect((await ines(path, { method: 'PATCH', body: { leadId: 'nobody' } })).body.fields).toEqual({
      leadId: 'They are no member of this project',
    })
    expect((await open({ title: ' ' })).status).toBe(422)
  })

  test('has items: what caused it, whose requirement it breaks, and what is to be done after it', async () => {
    const { number } = (await open({ title: 'Shelf lost' })).body
    const path = `${incidents}/${number}`
    await ines('/projects/EMB/requirement-prefixes', { method: 'POST', body: { prefix: 'SAF' } })
    const defect = (await rafe('/items', { method: 'POST', body: { title: 'Shelf is counted twice' } })).body.key
    const task = (await rafe('/items', { method: 'POST', body: { title: 'Watch the shelves', type: 'task' } })).body.key
    await rafe(`${path}/items/${defect}`, { method: 'PUT', body: { role: 'cause' } })
    await rafe(`${path}/items/${task}`, { method: 'PUT', body: { role: 'follow-up' } })
    expect((await rafe(path)).body).toMatchObject({
      followUps: 1,
      openFollowUps: 1,
      items: [{ key: defect, role: 'cause' }, { key: task }],
    })
    const gone = await rafe(`${path}/items/${task}`, { method: 'PUT', body: { role: null } })
    expect([gone.body.followUps, gone.body.items.length]).toEqual([0, 1])
    expect((await rafe(`${path}/items/EMB-999`, { method: 'PUT', body: { role: 'cause' } })).status).toBe(404)
    // A confidential cause is not shown to whoever may not see it.
    await ines(`/items/${defect}`, { method: 'PATCH', body: { isConfidential: true } })
    expect((await wren(path)).body.items).toEqual([])
  })

  test('is read by who reads the project, and handled by its members', async () => {
    expect((await open({}, wren)).status).toBe(403)
    expect((await wren(incidents)).status).toBe(200)
    expect((await rafe(`${incidents}/77`)).status).toBe(404)
    expect((await rafe(`${incidents}/x`)).status).toBe(404)
    const note = await rafe(`${incidents}/1`)
    const { noteId } = note.body.entries.find((entry: { kind: string }) => entry.kind === 'note')
    expect((await rafe(`${incidents}/2/notes/${noteId}`, { method: 'DELETE' })).status).toBe(404)
    expect((await rafe(`${incidents}/1/notes/${noteId}`, { method: 'DELETE' })).status).toBe(200)
    expect((await rafe(`${incidents}/1`)).body.entries.some((entry: { kind: string }) => entry.kind === 'note')).toBe(false)
  })

  test('stands in pages, newest first', async () => {
    const first = (await ines(`${incidents}?limit=2`)).body
    const second = (await ines(`${incidents}?limit=2&cursor=${first.nextCursor}`)).body
    const numbers = [...first.rows, ...second.rows].map((row: { number: number }) => row.number)
    expect(numbers).toEqual([3, 2, 1])
    expect(second.nextCursor).toBeNull()
  })
})

const alarm = (predicate: 'detected' | 'resolved', eventId: string, atMs: number) =>
  app.call('/receive/cloudevents', {
    method: 'POST',
    raw: JSON.stringify({
      ...cloudEvent(`dev.cdevents.incident.${predicate}.0.2.0`, eventId, {}, atMs),
      data: {
        context: {
          version: '0.4.1',
          id: eventId,
          source: '/watch',
          type: `dev.cdevents.incident.${predicate}.0.2.0`,
          timestamp: new Date(atMs).toISOString(),
        },
        subject: {
          id: 'alarm-7',
          source: '/watch',
          content: { description: 'Kilns do not answer', service: { id: 'kiln' }, environment: { id: 'production' } },
        },
      },
    }),
    headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
  })

test('what a service outside tells of is one incident with its item, however often it is told, and is over when it says so', async () => {
  await alarm('detected', 'one', app.clock.nowMs)
  await alarm('detected', 'two', app.clock.nowMs + 1)
  const [row] = (await ines(`${incidents}?limit=1`)).body.rows
  expect(row).toMatchObject({ number: 4, title: 'Kilns do not answer', service: 'kiln', environment: 'production', overAtMs: null })
  const detail = (await ines(`${incidents}/${row.number}`)).body
  expect(detail.items).toMatchObject([{ role: 'report' }])
  app.clock.nowMs += HOUR_MS
  await alarm('resolved', 'three', app.clock.nowMs)
  expect((await ines(`${incidents}/${row.number}`)).body.overAtMs).toBe(app.clock.nowMs)
  expect((await ines(`/items/${detail.items[0].key}/comments`)).body.rows).toHaveLength(1)
})
