import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let wren: Ask
const PATH = '/projects/EMB/glossary'
const set = (body: object, ask = ines) => ask(PATH, { method: 'PUT', body })
const words = async () => (await wren(PATH)).body.rows.map((row: { term: string }) => row.term)

beforeAll(async () => {
  app = await startApp()
  ;[ines, wren] = await Promise.all([app.asks('ines'), app.asks('wren')])
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

test('a word is set with what it means by who writes requirements, changed, renamed and taken out', async () => {
  const firing = { term: 'firing', meaning: 'Heating by a kiln plan, from cold to cold.', instead: ['burn', 'Burn', 'bake'] }
  expect((await set(firing, wren)).status).toBe(403)
  expect((await set({ ...firing, instead: ['Firing'] })).body.fields.instead).toContain('cannot stand for itself')
  expect((await set({ ...firing, meaning: ' ' })).body.fields.meaning).toContain('Say what it means')
  expect((await set(firing)).body.rows).toMatchObject([{ term: 'firing', instead: ['burn', 'bake'], by: 'person:ines' }])
  await set({ term: 'kiln plan', meaning: 'What a kiln does, segment by segment.' })
  expect(await words()).toEqual(['firing', 'kiln plan'])
  const entries = () => app.ctx.db.prepare(`SELECT count(*) FROM journal WHERE kind = 'term-set'`).pluck().get()
  const before = entries()
  await set({ ...firing, instead: ['burn', 'bake'] })
  expect(entries()).toBe(before)
  // Another spelling is the same word.
  await set({ ...firing, term: 'Firing' })
  expect(await words()).toEqual(['Firing', 'kiln plan'])
  expect((await set({ ...firing, term: 'Kiln plan', before: 'Firing' })).body.fields.term).toContain('has Kiln plan already')
  expect((await set({ ...firing, term: 'run', before: 'walk' })).status).toBe(404)
  await set({ ...firing, term: 'run', before: 'firing' })
  expect(await words()).toEqual(['kiln plan', 'run'])
  expect((await ines(`${PATH}?term=RUN`, { method: 'DELETE' })).body.rows).toHaveLength(1)
  expect((await ines(`${PATH}?term=run`, { method: 'DELETE' })).status).toBe(404)
})
