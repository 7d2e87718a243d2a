import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let [ines, rafe, wren]: Ask[] = []
let sha: string
let key: string
const place = { path: 'src/relay.js', line: 2, lastLine: 2, side: 'new' }
const remark = (ask: Ask | undefined, body: object) => (ask as Ask)(`/commits/kiln/${sha}/remarks`, { method: 'POST', body })
const rows = async (ask = wren) => (await (ask as Ask)(`/commits/kiln/${sha}/remarks`)).body.rows

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = await Promise.all([app.asks('ines'), app.asks('rafe'), app.asks('wren')])
  key = (await (rafe as Ask)('/items', { method: 'POST', body: { title: 'Relay sticks' } })).body.key
  repo.commit('README.md', 'one\n', 'Begin')
  sha = repo.commit('src/relay.js', 'one\ntwo\n', `Open the relay\n\nRefs: ${key}`)
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

test('is on lines, on the whole, or an answer, and is read by whoever reads the code', async () => {
  expect((await remark(rafe, { text: 'Why two?', place })).body.rows).toMatchObject([
    { personId: 'rafe', text: 'Why two?', place, isSettled: false },
  ])
  expect((await remark(rafe, { text: 'Well done' })).status).toBe(200)
  const [first] = await rows()
  expect((await remark(ines, { text: 'One for each zone', replyTo: first.remarkId })).status).toBe(200)
  // An answer to an answer hangs on the remark that began it.
  const answerId = (await rows())[0].answers[0].remarkId
  await remark(rafe, { text: 'I see', replyTo: answerId, place })
  const read = await rows()
  expect(read).toHaveLength(2)
  expect(read[0].answers.map(({ text }: { text: string }) => text)).toEqual(['One for each zone', 'I see'])
  expect(read[1]).toMatchObject({ text: 'Well done', place: null })
})

test('tells whoever wrote the commit and whoever speaks in its thread, by the item that it is tied to', async () => {
  const noticesOf = async (ask: Ask | undefined) => {
    const groups = (await (ask as Ask)('/inbox')).body.rows as { notices: { words: string; why: string }[] }[]
    return groups.flatMap((group) => group.notices)
  }
  const notices = await noticesOf(ines)
  expect(notices.find(({ words }) => words.includes('Why two?'))).toMatchObject({ why: 'review', words: `On ${sha.slice(0, 7)}: Why two?` })
  expect(notices.some(({ words }) => words.includes('One for each zone'))).toBe(false)
  // Rafe began the thread that Ines answered in; of his own words he is not told, and Wren, who said nothing, of none.
  expect((await noticesOf(rafe)).map(({ words }) => words).filter((words) => words.startsWith('On '))).toEqual([
    `On ${sha.slice(0, 7)}: One for each zone`,
  ])
  expect(await noticesOf(wren)).toEqual([])
})

test('is settled and opened again, with who did', async () => {
  const [first] = await rows()
  const settle = (ask: Ask | undefined, isSettled: boolean) =>
    (ask as Ask)(`/commits/kiln/${sha}/remarks/${first.remarkId}/settling`, { method: 'POST', body: { isSettled } })
  expect((await settle(ines, true)).body.rows[0]).toMatchObject({ isSettled: true, settledBy: 'person:ines' })
  expect((await settle(rafe, false)).body.rows[0]).toMatchObject({ isSettled: false, settledBy: null })
})

test('is reacted to, as an answer is, once by each, and that is taken back', async () => {
  const [first] = await rows()
  const react = (ask: Ask | undefined, remarkId: string, reaction: string, isOn: boolean) =>
    (ask as Ask)(`/commits/kiln/${sha}/remarks/${remarkId}/reactions`, { method: 'POST', body: { reaction, isOn } })
  for (const ask of [ines, ines, rafe]) expect((await react(ask, first.remarkId, 'agree', true)).status).toBe(200)
  await react(rafe, first.answers[0].remarkId, 'thanks', true)
  const [given] = await rows()
  expect(given.reactions).toEqual([{ reaction: 'agree', personIds: ['ines', 'rafe'] }])
  expect(given.answers[0].reactions).toEqual([{ reaction: 'thanks', personIds: ['rafe'] }])
  expect((await react(ines, first.remarkId, 'agree', false)).body.rows[0].reactions).toEqual([{ reaction: 'agree', personIds: ['rafe'] }])
  expect((await react(wren, first.remarkId, 'agree', true)).status).toBe(403)
  expect((await react(ines, 'nothing', 'agree', true)).status).toBe(404)
  expect((await react(ines, first.remarkId, 'applause', true)).status).toBe(422)
})

test('is refused from readers and programs, without words, on no such commit, and to no such remark', async () => {
  expect((await remark(wren, { text: 'x' })).status).toBe(403)
  expect((await remark(ines, { text: '  ' })).body.fields.text).toBe('Write a remark')
  expect((await remark(ines, { text: 'x', replyTo: 'nothing' })).status).toBe(404)
  expect((await remark(ines, { text: 'x', place: { ...place, line: 5 } })).status).toBe(422)
  expect((await (ines as Ask)(`/commits/kiln/${'f'.repeat(40)}/remarks`)).status).toBe(404)
  const program = await app.call(`/api/v1/commits/kiln/${sha}/remarks`, {
    method: 'POST',
    body: { text: 'x' },
    headers: { authorization: `Bearer ${app.token('write')}` },
  })
  expect(program.status).toBe(403)
  expect(await rows()).toHaveLength(2)
})
