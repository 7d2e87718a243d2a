import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { keepDueReports } from '#subjects/audits/audits.commands'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

const START_MS = Date.parse('2026-10-05T08:00:00.250Z')
const DAY_MS = 86_400_000
const PATH = '/projects/EMB/audit-reports'
let app: App
let ines: Ask
let wren: Ask
let whole: Ask
// Weeks pass: nobody stays signed in.
const list = async () => (await (await app.asks('wren'))(PATH)).body
const write = (text: string) => ines('/requirements/KLN-1', { method: 'PUT', body: { title: 'The relay', text } })
const on = (day: number, hours = 0) => {
  app.clock.nowMs = START_MS + day * DAY_MS + hours * 3_600_000
}

beforeAll(async () => {
  app = await startApp({ nowMs: START_MS })
  ines = await app.asks('ines')
  wren = await app.asks('wren')
  whole = await app.as('wren')
  await ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'KLN', title: 'The relay', text: 'It lets go.' } })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

test('a report is kept by who writes requirements, and reads as it did then, whenever it is opened', async () => {
  expect((await wren(PATH, { method: 'POST', body: {} })).status).toBe(403)
  const [kept] = (await ines(PATH, { method: 'POST', body: { words: 'for the insurer' } })).body.rows
  expect(kept).toMatchObject({ at: '2026-10-05T08:00:01Z', words: 'for the insurer', by: 'person:ines' })
  const now = (await ines('/projects/EMB/audit-report.json')).body
  expect(kept.figures.requirements).toBe(now.requirements.filter((one: { isHeading: boolean }) => !one.isHeading).length)
  expect(Object.values(kept.figures.states as Record<string, number>).reduce((sum, count) => sum + count, 0)).toBe(
    kept.figures.requirements,
  )
  on(3)
  await write('It lets go within 2 s.')
  // Nobody opened the moment before: a file that goes out waits until it is ready.
  const then = await whole(`/api/past/${kept.at}/v1/projects/EMB/audit-report.json`)
  expect(then.status).toBe(200)
  const texts = (report: { requirements: { key: string; text: string }[] }) => report.requirements.find(({ key }) => key === 'KLN-1')?.text
  expect(texts(then.body)).toBe('It lets go.')
  expect(texts((await ines('/projects/EMB/audit-report.json')).body)).toBe('It lets go within 2 s.')
})

test('one is kept by itself, each week or each month, once', async () => {
  const schedule = (every: string, ask = ines) => ask(`${PATH}/schedule`, { method: 'PUT', body: { every } })
  expect((await schedule('week', wren)).status).toBe(403)
  expect((await schedule('daily')).status).toBe(422)
  expect((await schedule('week')).body.every).toBe('week')
  const kept = async () => (await list()).rows.length
  keepDueReports(app.ctx)
  expect(await kept()).toBe(1)
  on(7)
  keepDueReports(app.ctx)
  keepDueReports(app.ctx)
  expect((await list()).rows[0]).toMatchObject({ words: 'of the week', by: 'system', at: '2026-10-12T08:00:01Z' })
  on(9)
  keepDueReports(app.ctx)
  expect(await kept()).toBe(2)
  // Down for three weeks, it keeps one.
  on(30)
  keepDueReports(app.ctx)
  keepDueReports(app.ctx)
  expect(await kept()).toBe(3)
  await schedule('never', await app.asks('ines'))
  on(60)
  keepDueReports(app.ctx)
  expect(await kept()).toBe(3)
})
