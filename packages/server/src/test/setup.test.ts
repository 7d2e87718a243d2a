import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { LABEL_COLOUR_NAMES } from '@dystracer/core/setup/label-colour'
import { verifyTables } from '#verify-tables'
import { startApp, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })
const post = (ask: Ask, path: string, body: object) => ask(path, { method: 'POST', body })
const remove = (ask: Ask, path: string) => ask(path, { method: 'DELETE' })
const log = async (fields: object = {}): Promise<string> =>
  (await post(rafe, '/items', { title: 'Relay stays closed', ...fields })).body.key

test('a milestone’s new name goes to its items, and one that is in use is not removed', async () => {
  expect(
    (await put(ines, '/projects/EMB/milestones', { milestone: { name: '4.2', startsOn: '2026-11-01', dueOn: '2026-10-01' } })).body.code,
  ).toBe('invalid-input')
  await put(ines, '/projects/EMB/milestones', { milestone: { name: '4.2', dueOn: '2026-12-20' } })
  const key = await log({ milestone: '4.2' })
  const { body } = await put(ines, '/projects/EMB/milestones', { milestone: { name: '4.3', dueOn: '2026-12-20' }, formerName: '4.2' })
  expect(body.milestones).toEqual([{ name: '4.3', startsOn: null, dueOn: '2026-12-20', isClosed: false, openItems: 1, settledItems: 0 }])
  expect((await rafe(`/items/${key}`)).body.milestone).toBe('4.3')
  expect((await remove(ines, '/projects/EMB/milestones/4.3')).body.code).toBe('conflict')
  await put(ines, '/projects/EMB/milestones', { milestone: { name: 'later' } })
  expect((await put(ines, '/projects/EMB/milestones', { milestone: { name: 'later' }, formerName: '4.3' })).body.code).toBe('conflict')
  expect((await remove(ines, '/projects/EMB/milestones/later')).status).toBe(200)
  expect((await put(rafe, '/projects/EMB/milestones', { milestone: { name: 'mine' } })).body.code).toBe('not-allowed')
})

test('each new label gets a colour that no other wears yet, and any member may change it', async () => {
  await log({ labels: ['safety', 'member-reported'] })
  await log({ labels: ['safety', 'winter'] })
  const { labels } = (await rafe('/projects/EMB/setup')).body
  expect(labels.map((entry: { colour: string }) => entry.colour).sort()).toEqual([...LABEL_COLOUR_NAMES.slice(0, 3)].sort())
  const changed = await put(rafe, '/projects/EMB/labels', { label: 'winter', colour: 'slate' })
  expect(changed.body.labels).toContainEqual({ label: 'winter', colour: 'slate' })
  expect((await put(rafe, '/projects/EMB/labels', { label: 'nowhere', colour: 'slate' })).body.code).toBe('not-found')
  expect((await put(rafe, '/projects/EMB/labels', { label: 'winter', colour: '#ff0000' })).body.code).toBe('invalid-input')
})

test('own fields are put in order and taken off; types in use stay', async () => {
  for (const fieldId of ['cone', 'studio', 'shelf']) await put(ines, '/projects/EMB/fields', { fieldId, name: fieldId, kind: 'text' })
  const ordered = await put(ines, '/projects/EMB/field-order', { fieldIds: ['shelf', 'nowhere', 'cone'] })
  expect(ordered.body.ownFields.map((field: { fieldId: string }) => field.fieldId)).toEqual(['shelf', 'cone', 'studio'])
  const key = await log({ ownValues: { cone: '6' } })
  expect((await remove(ines, '/projects/EMB/fields/cone')).body.ownFields.map((field: { fieldId: string }) => field.fieldId)).toEqual([
    'shelf',
    'studio',
  ])
  expect((await rafe(`/items/${key}`)).body.ownValues).toEqual({ cone: '6' })
  await put(ines, '/projects/EMB/types', { type: 'question' })
  await log({ type: 'question' })
  expect((await remove(ines, '/projects/EMB/types/question')).body.code).toBe('conflict')
  await put(ines, '/projects/EMB/types', { type: 'defect', isDefect: true, fields: { points: 'required' } })
  const back = await remove(ines, '/projects/EMB/types/defect')
  expect(back.body.types.find((type: { type: string }) => type.type === 'defect').fields).not.toHaveProperty('points', 'required')
})

test('an epic stands where its weakest open part stands, and follows when a part moves or leaves', async () => {
  const epic = await log({ type: 'epic', title: 'Safer firings' })
  const accept = { severity: 3, ownerId: 'rafe', component: 'Kiln control', requirement: null }
  await post(ines, `/items/${epic}/accept`, accept)
  const [first, second] = [await log({ type: 'story', parent: epic }), await log({ type: 'story', parent: epic })]
  for (const key of [first, second]) await post(ines, `/items/${key}/accept`, accept)
  expect((await rafe(`/items/${epic}`)).body.stage).toBe('accepted')
  await post(ines, `/items/${first}/verify`, { words: 'Looked at it.' })
  expect((await rafe(`/items/${epic}`)).body.stage).toBe('accepted')
  await post(ines, `/items/${second}/reject`, { disposition: 'deferred' })
  expect((await rafe(`/items/${epic}`)).body.stage).toBe('verified')
})

test('whether an item breaks a requirement or implements it is said by its type’s set-up, not by the type’s name', async () => {
  await put(ines, '/projects/EMB/types', { type: 'incident', isDefect: true })
  await put(ines, '/projects/EMB/types', { type: 'wish', isDefect: false })
  const kindOf = async (type: string) => {
    const key = await log({ type, requirement: 'SAF-3' })
    return (await rafe(`/items/${key}`)).body.links.map((link: { kind: string }) => link.kind)
  }
  expect(await kindOf('incident')).toEqual(['breaks'])
  expect(await kindOf('wish')).toEqual(['implements'])
})

test('a component is kept by somebody, has its code somewhere, is changed a piece at a time, and taken off', async () => {
  const path = '/projects/EMB/components'
  const find = (body: { components: { name: string }[] }, name: string) => body.components.find((known) => known.name === name)
  expect((await put(rafe, path, { name: 'Lid' })).status).toBe(403)
  await put(ines, path, { name: 'Lid', keeperId: 'rafe' })
  expect((await put(ines, path, { name: 'Lid', repository: 'nowhere' })).body.fields).toEqual({
    repository: 'There is no repository nowhere',
  })
  expect((await put(ines, path, { name: 'Lid', keeperId: 'nobody' })).body.fields).toEqual({ keeperId: 'There is no such person' })
  app.ctx.journal.write((writer) => {
    writer.append({
      kind: 'repository-added',
      actor: 'system',
      subjects: ['repository:lid'],
      body: { name: 'lid', url: 'file:///nowhere', mainBranch: 'main' },
    })
  })
  await put(ines, path, { name: 'Lid', repository: 'lid' })
  expect((await put(ines, path, { name: 'Lid', pathPrefix: '/etc' })).status).toBe(422)
  const changed = await put(ines, path, { name: 'Lid', pathPrefix: 'src/lid/' })
  // What was not said this time stays as it was.
  expect(find(changed.body, 'Lid')).toEqual({ name: 'Lid', keeperId: 'rafe', repository: 'lid', pathPrefix: 'src/lid' })
  const removed = await ines(`${path}/Lid`, { method: 'DELETE' })
  expect(find(removed.body, 'Lid')).toBeUndefined()
  expect((await ines(`${path}/Lid`, { method: 'DELETE' })).status).toBe(404)
})

test('requirements are put in order and below others, never below themselves; one that holds no more keeps its past', async () => {
  const begin = async (title: string, parent: string | null = null) =>
    (await ines('/projects/EMB/requirements', { method: 'POST', body: { prefix: 'ORD', title, parent, text: 'It shall.' } })).body
      .key as string
  const [a, b, c] = [await begin('First'), await begin('Second'), await begin('Third')]
  const order = async () =>
    (await rafe('/requirements')).body.rows.map((row: { key: string }) => row.key).filter((key: string) => key.startsWith('ORD-'))
  expect(await order()).toEqual([a, b, c])
  expect((await put(rafe, `/requirements/${c}/place`, { parent: null, before: a })).status).toBe(403)
  await put(ines, `/requirements/${c}/place`, { parent: null, before: a })
  expect(await order()).toEqual([c, a, b])
  await put(ines, `/requirements/${b}/place`, { parent: c })
  expect(await order()).toEqual([c, b, a])
  expect((await put(ines, `/requirements/${c}/place`, { parent: b })).body.fields).toEqual({ parent: `${b} stands below ${c} itself` })
  expect((await put(ines, `/requirements/${a}/place`, { parent: c, before: a })).body.fields).toHaveProperty('before')
  expect((await put(ines, `/requirements/${a}/place`, { parent: 'NONE-1' })).body.fields).toHaveProperty('parent')
  expect((await post(ines, `/requirements/${b}/retirement`, { words: '' })).body.fields).toEqual({ words: 'Say why' })
  const retired = await post(ines, `/requirements/${b}/retirement`, { words: 'The law was changed' })
  expect(retired.body).toMatchObject({ isRetired: true, retiredWords: 'The law was changed', text: 'It shall.' })
  expect((await post(ines, `/requirements/${b}/retirement`, { words: 'Again' })).status).toBe(409)
  await ines(`/requirements/${b}/retirement`, { method: 'DELETE' })
  expect((await rafe(`/requirements/${b}`)).body).toMatchObject({ isRetired: false, retiredWords: null })
})

describe('requirements from a file', () => {
  const send = (csv: string | Uint8Array, query: string, ask = ines) =>
    ask(`/projects/EMB/requirement-imports?${query}`, { method: 'POST', raw: csv, headers: { 'content-type': 'text/csv' } })
  const file =
    'Id,Title,Text,Parent,Type\r\nx1,Kilns,,,heading\r\nx2,Lid,"The lid shall close,\nalso by hand.",x1,\r\nx3,=1+1,Formula,x9,\r\n'

  test('are tried first, told by line where something is wrong, and brought in in one go', async () => {
    const tried = (await send(file, 'format=csv&prefix=KIL&trial=true')).body
    expect(tried.new.map((row: { key: string; parent: string | null }) => [row.key, row.parent])).toEqual([
      ['KIL-1', null],
      ['KIL-2', 'KIL-1'],
    ])
    expect(tried.problems).toEqual([{ line: 4, column: 'Parent', words: 'It stands below X9, which is not there' }])
    expect((await ines('/requirements/KIL-1')).status).toBe(404)
    expect((await send(file, 'format=csv&prefix=KIL&trial=false')).body.new).toHaveLength(2)
    expect((await ines('/requirements/KIL-2')).body).toMatchObject({
      text: 'The lid shall close,\nalso by hand.',
      parent: 'KIL-1',
      revision: 1,
    })
  })

  test('of two columns with one name none is lost, and that is said', async () => {
    const twice = 'Id,Title,Text,Note,Note\nz1,Door,It shall close.,first,second\n'
    const { problems, headings } = (await send(twice, 'format=csv&prefix=KIL&trial=true')).body
    expect(problems).toEqual([{ line: 1, column: 'Note', words: 'A column before it is called so as well; it is read as “Note (2)”' }])
    expect(headings).toEqual(['Id', 'Title', 'Text', 'Note', 'Note (2)'])
  })

  test('go out and come in again without a change; a changed row is a revision, one that moved stands elsewhere', async () => {
    const csv = (await ines('/requirements.csv?project=EMB')).text
    const again = (await send(csv, 'format=csv&prefix=KIL&trial=false')).body
    expect(again).toMatchObject({ changed: [], moved: [] })
    const changed = csv
      .replace('also by hand', 'and open')
      .replace('KIL-2,Lid', "KIL-2,'=Lid")
      .replace(/KIL-1,requirement/, ',requirement')
    expect((await send(changed, 'format=csv&prefix=KIL&trial=false')).body).toMatchObject({
      changed: [{ key: 'KIL-2', what: ['title', 'text'] }],
      moved: [{ key: 'KIL-2', from: 'KIL-1', to: null }],
    })
    expect((await ines('/requirements/KIL-2')).body).toMatchObject({ title: '=Lid', revision: 2, parent: null })
    expect((await ines('/requirements.csv?project=EMB')).text).toContain(`"'=Lid"`)
  })

  test('are refused whole where the file cannot be read, the prefix is another’s, or the asker may not', async () => {
    expect((await send(new Uint8Array([0x49, 0x64, 0x2c, 0xff]), 'prefix=KIL')).body.detail).toContain('no UTF-8')
    expect((await send('Id,Title\n1,"open', 'prefix=KIL')).body.detail).toContain('does not end')
    expect((await send(file, 'prefix=EMB')).body.fields.prefix).toContain('taken by something else')
    expect((await send(file, 'prefix=KIL&format=docx')).status).toBe(422)
    expect((await send(file, 'prefix=KIL', rafe)).status).toBe(403)
  })
})
