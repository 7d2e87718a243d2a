import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
let id: string
const PATH = '/projects/EMB/agreements'
const post = (ask: Ask, path: string, body: object) => ask(`${PATH}/${path}`, { method: 'POST', body })
const agree = (ask: Ask, verdicts: object[], isOn = true) => post(ask, `${id}/verdicts`, { verdicts, isOn })
const read = async (ask = ines) => (await ask(`${PATH}/${id}`)).body
const row = async (key: string, ask = ines) => (await read(ask)).rows.find((one: { key: string }) => one.key === key)
const write = (key: string, text: string) => ines(`/requirements/${key}`, { method: 'PUT', body: { title: key, text } })

beforeAll(async () => {
  app = await startApp()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  for (const text of ['The door locks above 60 °C.', 'The door is warm.'])
    await ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'DOR', title: text, text } })
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

test('people of the project are asked to agree to its requirements by who writes them', async () => {
  const asked = { name: 'Doors for 4.2', words: 'Is 60 enough?', keys: ['DOR-1', 'DOR-2'], people: ['rafe', 'wren'], dueOn: '2026-12-01' }
  const ask = (body: object, who = ines) => who(PATH, { method: 'POST', body })
  expect((await ask(asked, rafe)).status).toBe(403)
  expect((await ask({ ...asked, keys: ['DOR-9'] })).body.fields.keys).toContain('DOR-9 is no requirement of this project')
  expect((await ask({ ...asked, people: ['nobody'] })).body.fields.people).toContain('nobody does not belong')
  expect((await ask({ ...asked, people: [] })).body.fields.people).toContain('Name somebody')
  const made = await ask(asked)
  expect(made).toMatchObject({ status: 201, body: { name: 'Doors for 4.2', total: 2, agreed: 0, isAgreed: false, dueOn: '2026-12-01' } })
  id = made.body.agreementId
  const waiting = (await wren('/desk')).body.waiting
  expect(waiting).toContainEqual(
    expect.objectContaining({ why: 'agree', title: 'Doors for 4.2', ref: { kind: 'requirement', id: 'DOR-1' } }),
  )
  expect((await ines('/desk')).body.waiting.map((one: { why: string }) => one.why)).not.toContain('agree')
})

test('a word counts for the text that was read: a new one lets it fall and shows what changed', async () => {
  expect((await agree(ines, [{ key: 'DOR-1', revision: 1 }])).body.detail).toContain('not among those who are asked')
  expect((await agree(rafe, [{ key: 'DOR-7', revision: 1 }])).body.fields.verdicts).toContain('DOR-7 is not among')
  await agree(rafe, [
    { key: 'DOR-1', revision: 1 },
    { key: 'DOR-2', revision: 1 },
  ])
  await agree(wren, [{ key: 'DOR-1', revision: 1 }])
  expect(await read()).toMatchObject({
    agreed: 1,
    people: [
      { personId: 'rafe', agreed: 2 },
      { personId: 'wren', agreed: 1 },
    ],
  })
  await write('DOR-1', 'The door locks above 50 °C.')
  expect((await agree(wren, [{ key: 'DOR-1', revision: 1 }])).status).toBe(412)
  expect(await row('DOR-1', rafe)).toMatchObject({
    agreedBy: [],
    outdatedBy: ['rafe', 'wren'],
    seen: { revision: 1, text: 'The door locks above 60 °C.' },
  })
  expect((await row('DOR-1')).seen).toBeNull()
  await agree(rafe, [{ key: 'DOR-1', revision: 2 }])
  await agree(wren, [
    { key: 'DOR-1', revision: 2 },
    { key: 'DOR-2', revision: 1 },
  ])
  expect(await read()).toMatchObject({ isAgreed: true, agreed: 2 })
  expect((await wren('/desk')).body.waiting.map((one: { why: string }) => one.why)).not.toContain('agree')
  await agree(wren, [{ key: 'DOR-2', revision: 1 }], false)
  expect(await row('DOR-2')).toMatchObject({ agreedBy: ['rafe'], waitsFor: ['wren'] })
})

test('words are remarked on by who is asked, and settled by who made the remark or writes requirements', async () => {
  const remark = (ask: Ask, body: object) => post(ask, `${id}/remarks`, { key: 'DOR-1', ...body })
  expect((await remark(wren, { quote: 'above 60 °C', text: 'Why?' })).body.fields.quote).toContain('do not stand in DOR-1')
  expect((await remark(wren, { quote: 'above\n50 °C', text: 'Why not 45?' })).status).toBe(201)
  expect((await remark(wren, { key: 'DOR-9', text: 'Where?' })).body.fields.key).toContain('DOR-9 is not among')
  const [said] = (await row('DOR-1')).remarks
  expect(said).toMatchObject({ quote: 'above\n50 °C', text: 'Why not 45?', by: 'person:wren', revision: 2, settledBy: null })
  const settle = (ask: Ask, isSettled: boolean) => ask(`${PATH}/${id}/remarks/${said.remarkId}`, { method: 'PUT', body: { isSettled } })
  expect((await settle(rafe, true)).status).toBe(403)
  expect((await settle(ines, true)).body.openRemarks).toBe(0)
  expect((await settle(wren, false)).body.openRemarks).toBe(1)
  expect((await ines(`${PATH}/${id}/remarks/gone`, { method: 'PUT', body: { isSettled: true } })).status).toBe(404)
})

test('what is asked is changed, what was agreed stays; a retired requirement is asked of nobody', async () => {
  const changed = { name: 'Doors', words: '', keys: ['DOR-1'], people: ['rafe'], dueOn: null }
  const change = (ask: Ask) => ask(`${PATH}/${id}`, { method: 'PUT', body: changed })
  expect((await change(wren)).status).toBe(403)
  expect((await change(ines)).body).toMatchObject({ name: 'Doors', total: 1, isAgreed: true, people: [{ personId: 'rafe', agreed: 1 }] })
  await ines('/requirements/DOR-1/retirement', { method: 'POST', body: { words: 'no door' } })
  expect(await read()).toMatchObject({ total: 0, isAgreed: false, rows: [] })
  await ines('/requirements/DOR-1/retirement', { method: 'DELETE' })
})

test('it ends with words, takes nothing more then, and can go on', async () => {
  const end = (ask: Ask, body: object) => post(ask, `${id}/end`, body)
  expect((await end(rafe, { isEnded: true })).status).toBe(403)
  expect((await end(ines, { isEnded: true, words: 'for the audit' })).body.ended).toMatchObject({
    words: 'for the audit',
    by: 'person:ines',
  })
  expect((await agree(rafe, [{ key: 'DOR-1', revision: 2 }])).body.detail).toContain('It has ended')
  expect((await end(ines, { isEnded: true })).status).toBe(409)
  expect((await end(ines, { isEnded: false })).body.ended).toBeNull()
  expect((await ines(PATH)).body.rows.map((one: { name: string }) => one.name)).toEqual(['Doors'])
  expect((await ines(`${PATH}/gone`)).status).toBe(404)
})
