import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { COPIED_FIELDS, ITEM_FIELDS, LINE_FIELDS, type FieldDeclaration } from '@dystracer/core/setup/item-fields'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

// What a declaration promises of a typed line holds for each of them, also for those that are declared later.
let app: App
let rafe: Ask
beforeAll(async () => {
  app = await startApp()
  rafe = await app.asks('rafe')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})
const post = (path: string, body: object) => rafe(path, { method: 'POST', body })

test.each(LINE_FIELDS)('%s is logged, changed, told, copied, filtered and exported as declared', async (name) => {
  const declared: FieldDeclaration = ITEM_FIELDS[name]
  const logged = (await post('/items', { title: `Line ${name}`, [name]: 'first words' })).body
  expect(logged[name]).toBe('first words')
  const changed = await rafe(`/items/${logged.key}`, { method: 'PATCH', body: { [name]: 'other words' } })
  expect(changed.body[name]).toBe('other words')
  const { body: history } = await rafe(`/items/${logged.key}/history`)
  expect(history.rows[0].facts.changes).toEqual({ [name]: { from: 'first words', to: 'other words' } })

  const copy = (await post(`/items/${logged.key}/copy`, {})).body
  expect(copy[name]).toBe(COPIED_FIELDS.some((copied) => copied === name) ? 'other words' : null)

  if (declared.filteredAs !== null) {
    const filter = encodeURIComponent(`${declared.filteredAs}="other words" key=${logged.key}`)
    expect((await rafe(`/items?filter=${filter}`)).body.rows.map((item: { key: string }) => item.key)).toEqual([logged.key])
  }
  const { body: exported } = await rafe(`/items.jsonl?filter=${encodeURIComponent(`key=${logged.key}`)}`)
  const line = typeof exported === 'string' ? JSON.parse(exported) : exported
  if (declared.exportedAs !== null) expect(line).toMatchObject({ key: logged.key, [declared.exportedAs]: 'other words' })
})
