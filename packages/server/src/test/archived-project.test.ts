import { afterEach, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
afterEach(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

const put = (ask: Ask, path: string, body: object) => ask(path, { method: 'PUT', body })
const post = (ask: Ask, path: string, body: object) => ask(path, { method: 'POST', body })
const archive = (ask: Ask, isArchived: boolean, project = 'EMB') => put(ask, `/projects/${project}/archived`, { isArchived })

async function begin() {
  app = await startApp()
  const [ines, rafe, wren, teo] = [await app.asks('ines'), await app.asks('rafe'), await app.asks('wren'), await app.asks('teo')]
  const key = (await post(rafe, '/items', { title: 'Lid sticks', ownerId: 'rafe' })).body.key as string
  return { ines, rafe, wren, teo, key }
}

test('an archived project is read and changed no more, until an administrator opens it again', async () => {
  const { ines, rafe, wren, teo, key } = await begin()
  expect((await archive(ines, true)).body.code).toBe('not-allowed')
  expect((await archive(teo, true)).body).toEqual({ isArchived: true })
  for (const refused of [
    await post(rafe, '/items', { title: 'Another', project: 'EMB' }),
    await rafe(`/items/${key}`, { method: 'PATCH', body: { severity: 2 } }),
    await post(rafe, `/items/${key}/comments`, { text: 'Still sticks' }),
    await put(ines, '/projects/EMB/milestones', { milestone: { name: '4.2' } }),
    await put(teo, '/projects/EMB/name', { name: 'Other' }),
  ]) {
    expect(refused.status).toBe(403)
    expect(refused.body.detail).toContain('EMB is archived')
  }
  expect((await wren(`/items/${key}`)).body.title).toBe('Lid sticks')
  const keysOf = async (filter: string) =>
    (await wren(`/items?filter=${encodeURIComponent(filter)}`)).body.rows.map((row: { key: string }) => row.key)
  expect(await keysOf('open')).toEqual([])
  expect(await keysOf('open project=EMB')).toEqual([key])
  expect((await wren('/me')).body.projects).toEqual([{ prefix: 'EMB', name: 'Emberwick', isArchived: true }])
  expect((await teo('/audit?kind=project-archived')).body.rows).toMatchObject([{ about: 'EMB', actor: 'person:teo' }])
  // Who belongs to it can still be changed, and an account that is closed keeps its name on what it owned.
  expect((await post(teo, '/projects/EMB/people/rafe/leaving', { handOverTo: 'ines' })).body).toEqual({ items: 0, components: 0, weeks: 0 })
  expect((await ines(`/items/${key}`)).body.ownerId).toBe('rafe')
  expect((await archive(teo, false)).body).toEqual({ isArchived: false })
  expect((await post(ines, '/items', { title: 'Another', project: 'EMB' })).status).toBe(201)
  expect(await keysOf('open')).toHaveLength(2)
})

test('nothing is logged in an archived project by rules, findings, mail or the public form; what programs send is kept', async () => {
  const { ines, rafe, teo } = await begin()
  await put(ines, '/projects/EMB/public-form', { isOn: true })
  await archive(teo, true)
  const countOf = async () => (await rafe('/items?filter=project%3DEMB')).body.total
  const send = (path: string, scope: Parameters<App['token']>[0], asked: object) =>
    app.call(path, { method: 'POST', headers: { authorization: `Bearer ${app.token(scope)}` }, ...asked })
  const faults = { ...exceptionRequest({ atMs: app.clock.nowMs, count: 9 }) }
  expect((await send('/otlp/v1/logs', 'telemetry', { body: faults })).status).toBe(200)
  await until('the fault is there', async () => (await rafe('/faults')).body.rows[0]?.occurrences === 9)
  const mail = 'From: a@kilns.example\r\nTo: emb@example.org\r\nSubject: The lid sticks\r\n\r\nIt does.'
  const refused = await send('/receive/mail', 'mail', {
    raw: mail,
    headers: { authorization: `Bearer ${app.token('mail', { project: 'EMB' })}` },
  })
  expect(refused.body.detail).toContain('EMB is archived')
  expect((await app.call('/api/v1/public/EMB')).status).toBe(404)
  expect(await countOf()).toBe(1)
})

test('a person who may make projects makes one by token; a program names who administers it', async () => {
  const { ines, teo } = await begin()
  const own = (await post(teo, '/me/tokens', { name: 'mine', scope: 'write' })).body
  const make = (token: string, body: object) =>
    app.call('/api/v1/projects', { method: 'POST', body, headers: { authorization: `Bearer ${token}` } })
  expect((await make(own.token, { name: 'Kiln sharing', prefix: 'KS' })).body).toMatchObject({ prefix: 'KS' })
  const program = app.token('admin')
  expect((await make(program, { name: 'Clay', prefix: 'CLY' })).body.fields.administrator).toContain('name who administers it')
  expect((await make(program, { name: 'Clay', prefix: 'CLY', administrator: 'nobody@kilns.example' })).body.code).toBe('invalid-input')
  const made = await make(program, { name: 'Clay', prefix: 'CLY', administrator: 'ines@emberwick.example', firstItem: 'Dig' })
  expect(made.body).toMatchObject({ prefix: 'CLY', firstItem: 'CLY-1' })
  expect((await archive(ines, true, 'CLY')).body).toEqual({ isArchived: true })
  expect((await make(app.token('admin', { project: 'EMB' }), { name: 'Ash', prefix: 'ASH', administrator: 'ines' })).body.detail).toContain(
    'This token is for the project EMB',
  )
  expect((await make(app.token('write'), { name: 'Ash', prefix: 'ASH', administrator: 'ines' })).body.code).toBe('not-allowed')
})

test('reports that name a repository as it is called where it lies now are taken for it', async () => {
  const { ines } = await begin()
  const repo = new TestRepository()
  try {
    const sha = repo.commit('README.md', 'kiln\n', 'Begin')
    connectRepository(app, 'kiln', repo.dir)
    const called = repo.dir.split('/').at(-1) ?? ''
    const report = (repository: string, token: string) =>
      app.call(`/receive/reports/junit?repository=${repository}&commit=${sha}&build=1`, {
        method: 'POST',
        raw: '<testsuite name="probe"><testcase name="reads"/></testsuite>',
        headers: { authorization: `Bearer ${token}` },
      })
    expect((await report('nowhere', app.token('evidence'))).status).toBe(404)
    expect((await report(called, app.token('evidence', { project: 'EMB' }))).status).toBe(200)
    expect((await ines('/builds/kiln/1')).body.repository).toBe('kiln')
  } finally {
    repo.remove()
  }
})
