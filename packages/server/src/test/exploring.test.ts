import { afterAll, beforeAll, expect, test } from '@jest/globals'
import sharp from 'sharp'
import { verifyTables } from '#verify-tables'
import { findBrokenBlobs } from '#subjects/talk/blobs'
import { startApp, type App, type Ask } from './app-harness.js'

/** Somebody looks around with a question in mind, notes what they see with pictures, and logs what is wrong. */
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const MINUTE_MS = 60_000

beforeAll(async () => {
  app = await startApp()
  ;[ines, rafe, wren] = [await app.asks('ines'), await app.asks('rafe'), await app.asks('wren')]
  await ines('/items', { method: 'POST', body: { project: 'EMB', title: 'Plan is lost after a power cut' } })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const at = (ask: Ask, path: string, method: string, body?: object) =>
  ask(`/projects/EMB/explorations${path}`, { method, ...(body && { body }) })
const CUTS = { question: 'Does a kiln keep its plan through a power cut?', points: ['while heating', 'twice'], about: ['SAF-3', 'EMB-1'] }
const begin = async (more: object = {}) => (await at(ines, '', 'POST', { ...CUTS, ...more })).body
const picture = (file: Buffer, name = 'panel.png', ask = ines) =>
  ask(`/projects/EMB/pictures?name=${name}`, { method: 'POST', raw: file, headers: { 'content-type': 'application/octet-stream' } })

test('an exploration is begun, ticked off, noted in and ended; its clock counts what it ran', async () => {
  const { explorationId } = await begin({ boxMinutes: 30 })
  const of = `/${explorationId}`
  await at(ines, `${of}/clock`, 'PUT', { isRunning: true })
  app.clock.nowMs += 7 * MINUTE_MS
  // Told twice it goes on from where it began.
  await at(rafe, `${of}/clock`, 'PUT', { isRunning: true })
  app.clock.nowMs += 3 * MINUTE_MS
  expect((await at(ines, `${of}/clock`, 'PUT', { isRunning: false })).body).toMatchObject({ spentMs: 10 * MINUTE_MS, runningSinceMs: null })
  app.clock.nowMs += 60 * MINUTE_MS
  await at(ines, `${of}/points`, 'PUT', { point: 'twice', isDone: true })
  await at(rafe, `${of}/notes`, 'POST', { sort: 'seen', words: 'It comes back **cold**' })
  const troubled = await at(rafe, `${of}/notes`, 'POST', {
    sort: 'trouble',
    words: 'The plan is empty\n\nafter the second cut',
    logsDefect: true,
  })
  const [, { item }] = troubled.body.notes
  expect((await ines(`/items/${item}`)).body).toMatchObject({
    title: 'The plan is empty',
    description: expect.stringContaining('Noted while looking into: Does a kiln keep its plan'),
  })
  await at(ines, `${of}/clock`, 'PUT', { isRunning: true })
  app.clock.nowMs += 2 * MINUTE_MS
  const ended = (await at(ines, `${of}/end`, 'PUT', { isEnded: true, words: 'It does, once' })).body
  expect(ended).toMatchObject({
    spentMs: 12 * MINUTE_MS,
    runningSinceMs: null,
    about: ['SAF-3', 'EMB-1'],
    points: [
      { point: 'while heating', isDone: false },
      { point: 'twice', isDone: true },
    ],
    ended: { by: 'person:ines', words: 'It does, once' },
  })
  expect((await at(rafe, `${of}/notes`, 'POST', { sort: 'idea', words: 'late' })).status).toBe(409)
  const report = (await wren(`/projects/EMB/explorations/${explorationId}/report.md`)).text
  expect(report).toContain('12 min spent of 30. About SAF-3, EMB-1.')
  expect(report).toContain('- [x] twice')
  expect(report).toContain(`**Trouble**, logged as ${item}`)
  await at(ines, `${of}/end`, 'PUT', { isEnded: false })
  expect((await at(rafe, `${of}/notes`, 'POST', { sort: 'idea', words: 'in time' })).body.ended).toBeNull()
})

test('points that stay keep their ticks, and a note is taken back by whoever wrote it', async () => {
  const { explorationId } = await begin()
  const of = `/${explorationId}`
  await at(ines, `${of}/points`, 'PUT', { point: 'twice', isDone: true })
  const changed = await at(ines, of, 'PUT', { ...CUTS, points: ['twice', 'thrice'] })
  expect(changed.body.points).toEqual([
    { point: 'twice', isDone: true },
    { point: 'thrice', isDone: false },
  ])
  expect((await at(ines, `${of}/points`, 'PUT', { point: 'while heating', isDone: true })).status).toBe(404)
  const { notes } = (await at(ines, `${of}/notes`, 'POST', { sort: 'question', words: 'Why thrice?' })).body
  expect((await at(rafe, `${of}/notes/${notes[0].noteId}`, 'DELETE')).status).toBe(403)
  expect((await at(ines, `${of}/notes/${notes[0].noteId}`, 'DELETE')).body.notes).toEqual([])
  const rows = (await wren('/projects/EMB/explorations')).body.rows
  expect(rows.map((row: { points: object; notes: object }) => [row.points, row.notes])).toContainEqual([
    { done: 1, all: 2 },
    { all: 0, trouble: 0 },
  ])
})

test.each([
  [{ ...CUTS, question: '  ' }, 'question'],
  [{ ...CUTS, about: ['NIX-1'] }, 'about'],
  [{ ...CUTS, release: 'kiln@9' }, 'release'],
  [{ ...CUTS, points: ['twice', 'twice'] }, 'points'],
  [{ ...CUTS, boxMinutes: 1 }, 'boxMinutes'],
])('%j is refused at %s', async (body, field) => {
  const { status, body: problem } = await at(ines, '', 'POST', body)
  expect([status, Object.keys(problem.fields)]).toEqual([422, [field]])
})

test('only trouble is logged, and who only reads begins nothing', async () => {
  const { explorationId } = await begin()
  const notes = `/${explorationId}/notes`
  expect((await at(ines, notes, 'POST', { sort: 'seen', words: 'x', logsDefect: true })).body.fields).toHaveProperty('logsDefect')
  expect((await at(wren, notes, 'POST', { sort: 'seen', words: 'x' })).status).toBe(403)
  expect((await at(wren, '', 'POST', CUTS)).status).toBe(403)
  expect((await at(ines, '/nothing', 'GET')).status).toBe(404)
})

test('a picture is kept for texts of a project, shown to its members as a picture alone, and nothing else is taken', async () => {
  const png = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#336699' } })
    .png()
    .toBuffer()
  const kept = await picture(png)
  expect(kept.status).toBe(201)
  expect(kept.body.path).toBe(`pictures/EMB/${kept.body.pictureId}`)
  const shown = await wren(`/projects/EMB/pictures/${kept.body.pictureId}`)
  expect([shown.status, shown.headers.get('content-type')]).toEqual([200, 'image/png'])
  expect(shown.headers.get('content-security-policy')).toContain('sandbox')
  expect((await picture(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" onload="x()"/>'), 'x.svg')).body.fields.file).toContain(
    'is no picture',
  )
  expect((await picture(Buffer.from('hello'), 'x.png')).body.fields.file).toContain('is not what its name says')
  expect((await picture(png, 'panel.png', wren)).status).toBe(403)
  expect((await ines('/projects/EMB/pictures/nothing')).status).toBe(404)
  expect(await findBrokenBlobs(app.ctx.db, app.dataDir)).toEqual([])
})
