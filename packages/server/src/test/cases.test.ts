import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { cloudEvent, connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
let wren: Ask
beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ;[ines, rafe, wren] = [await app.asks('ines'), await app.asks('rafe'), await app.asks('wren')]
  await ines('/items', { method: 'POST', body: { project: 'EMB', title: 'Lid does not stop the heat' } })
  repo.commit('lid.js', 'a\n', 'Stop the heat\n\nFixes: EMB-1')
  repo.git('tag', 'v1.0.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  await until('the release is known', async () => (await ines('/releases')).body.services[0]?.releases.length === 1)
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

const post = (ask: Ask, path: string, body: object) => ask(`/projects/EMB${path}`, { method: 'POST', body })
const put = (ask: Ask, path: string, body: object) => ask(`/projects/EMB${path}`, { method: 'PUT', body })
const STEPS = [
  { do: 'Heat to 300 °C', expect: 'It heats' },
  { do: 'Open the lid', expect: 'The heater stops within 2 s' },
]
const LID = { title: 'Open the lid', text: 'A kiln with a lid', steps: STEPS, verifies: ['SAF-3', 'EMB-1'] }

describe('a test case', () => {
  test('is written with steps and what it verifies, and each text is a revision', async () => {
    const made = await post(rafe, '/cases', LID)
    expect([made.status, made.body]).toMatchObject([201, { number: 1, revision: 1, verifies: ['SAF-3', 'EMB-1'], results: [] }])
    expect((await put(rafe, '/cases/1', LID)).body.revision).toBe(1)
    expect((await put(rafe, '/cases/1', { ...LID, text: 'A kiln with a lid, cold' })).body).toMatchObject({
      revision: 2,
      revisions: [{ revision: 2 }, { revision: 1 }],
    })
    expect((await post(rafe, '/cases', { ...LID, verifies: ['NIX-1'] })).body.fields.verifies).toContain('NIX-1')
    expect((await post(rafe, '/cases', { ...LID, steps: [] })).body.fields.steps).toContain('needs a step')
    expect((await post(wren, '/cases', LID)).status).toBe(403)
    expect((await wren('/projects/EMB/cases/9')).status).toBe(404)
  })

  test('goes out as CSV and Markdown, and comes in tried first', async () => {
    const { text } = await ines('/projects/EMB/cases.csv')
    const send = (csv: string, trial: boolean) =>
      ines(`/projects/EMB/case-imports?trial=${trial}`, { method: 'POST', raw: csv, headers: { 'content-type': 'text/csv' } })
    expect((await send(text, false)).body).toMatchObject({ new: [], changed: [], same: 1, problems: [] })
    const more = 'Title,Steps,Verifies\nRing the bell,"Press => It rings\nWait => It is quiet",SAF-3\nNothing,,\nWrong,Do it,NIX-9\n'
    const tried = (await send(more, true)).body
    expect(tried).toMatchObject({
      new: [{ number: 2, title: 'Ring the bell', line: 2 }],
      problems: [{ line: 3 }, { line: 4, words: expect.stringContaining('NIX-9') }],
    })
    expect((await ines('/projects/EMB/cases')).body.rows).toHaveLength(1)
    await send(more, false)
    expect((await ines('/projects/EMB/cases/2')).body.steps).toEqual([
      { do: 'Press', expect: 'It rings' },
      { do: 'Wait', expect: 'It is quiet' },
    ])
    expect((await ines('/projects/EMB/cases.md')).text).toContain('| 1 | Press | It rings |')
    expect((await send('Name\nx', true)).body.problems[0].words).toContain('title')
  })

  test('a file in UTF-16 is read; one that is none in its encoding, or does not end a cell, is refused with the place', async () => {
    const send = (raw: Uint8Array | string) =>
      ines('/projects/EMB/case-imports?trial=true', { method: 'POST', raw, headers: { 'content-type': 'text/csv' } })
    const utf16 = Buffer.concat([
      Buffer.from([0xff, 0xfe]),
      Buffer.from('Title,Steps,Steps\nKiln at 1040 °C,Look => It holds,\n', 'utf16le'),
    ])
    const { body } = await send(utf16)
    expect(body.new).toMatchObject([{ title: 'Kiln at 1040 °C' }])
    expect(body.problems).toEqual([{ line: 1, words: 'Two columns are called “Steps”; the later one is read as “Steps (2)”' }])
    expect(await send(new Uint8Array([0x54, 0x2c, 0xff, 0x0a]))).toMatchObject({
      status: 400,
      body: { detail: expect.stringContaining('line 1') },
    })
    expect((await send('Title,Steps\n"Open,x\n')).body.detail).toContain('never closed')
  })
})

describe('a test plan', () => {
  let plan: string
  const done = (body: object, ask = rafe) => {
    app.clock.nowMs += 1000
    return post(ask, `/test-plans/${plan}/results`, { environment: 'staging', revision: 2, number: 1, outcome: 'passed', ...body })
  }

  test('says which cases are done, of which release, where', async () => {
    const body = { name: 'October', release: 'kiln@1.0.0', environments: ['staging', 'kiln 4'], cases: [1, 2] }
    expect((await post(rafe, '/test-plans', { ...body, cases: [7] })).body.fields.cases).toContain('7')
    expect((await post(rafe, '/test-plans', { ...body, release: 'kiln@9' })).body.fields.release).toContain('kiln@9')
    const made = (await post(rafe, '/test-plans', body)).body
    plan = made.planId
    expect(made).toMatchObject({ progress: { open: 4, passed: 0 }, signed: null })
  })

  test('is done case by case; what fails is logged as a defect with its steps', async () => {
    expect((await done({ outcome: 'failed', step: 2 })).body.fields.words).toContain('Say what you saw')
    const { body } = await done({ outcome: 'failed', step: 2, words: 'It went on', logsDefect: true })
    const [result] = body.results
    expect(result).toMatchObject({ outcome: 'failed', step: 2, by: 'person:rafe', isStale: false })
    const item = (await ines(`/items/${result.item}`)).body
    expect(item).toMatchObject({ title: 'Open the lid: The heater stops within 2 s', foundIn: '1.0.0' })
    expect(item.description).toContain('2. Open the lid')
    expect(item.description).toContain('**Seen:** It went on')
    expect(item.links).toContainEqual(expect.objectContaining({ kind: 'breaks' }))
    expect((await done({ environment: 'moon' })).body.fields.environment).toContain('not in this plan')
    expect((await done({ number: 9 })).body.fields.number).toContain('not in this plan')
    expect((await done({}, wren)).status).toBe(403)
  })

  test('counts the newest result of each place; a case that is written anew has to be done again', async () => {
    expect((await done({})).body.progress).toMatchObject({ passed: 1, failed: 0, open: 3 })
    await put(rafe, '/cases/1', { ...LID, text: 'Cold' })
    expect((await rafe(`/projects/EMB/test-plans/${plan}`)).body.progress).toMatchObject({ passed: 0, open: 4 })
    expect((await done({ revision: 9 })).body.fields.revision).toContain('revision 3')
  })

  test('proves requirements and items like a test of a program does, until it is stale', async () => {
    const row = async () => (await ines('/requirements/SAF-3')).body
    const before = (await row()).checks.find((check: { number: number }) => check.number === 1)
    expect(before).toMatchObject({ title: 'Open the lid', isStale: true })
    await done({ revision: 3, environment: 'staging' })
    await done({ revision: 3, environment: 'kiln 4' })
    const checks = (await row()).checks.filter((check: { number: number }) => check.number === 1)
    expect(checks.map(({ environment, outcome, isStale }: Record<string, unknown>) => [environment, outcome, isStale])).toEqual([
      ['kiln 4', 'passed', false],
      ['staging', 'passed', false],
    ])
    expect((await row()).tests).toBe(1)
    const data = { deploymentId: 'd1', service: 'kiln', release: '1.0.0', environment: 'production' }
    await app.call('/receive/cloudevents', {
      method: 'POST',
      headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/cloudevents+json' },
      raw: JSON.stringify(cloudEvent('dev.cdevents.service.deployed.0.2.0', 'run-1', data, app.clock.nowMs)),
    })
    await until('the item is verified', async () => (await ines('/items/EMB-1')).body.stage === 'verified')
    const treads = (await ines('/items/EMB-1')).body.ladder.treads
    expect(treads.find(({ stage }: { stage: string }) => stage === 'verified').evidence).toMatchObject([
      { code: 'tests-pass', facts: { count: 2, release: '1.0.0' } },
    ])
  })

  test('is signed by somebody who may once nothing is open, and is not done further then', async () => {
    const sign = (ask: Ask, isSigned: boolean) => put(ask, `/test-plans/${plan}/signature`, { isSigned, words: 'All seen' })
    expect((await sign(rafe, true)).status).toBe(403)
    expect((await sign(ines, true)).body.detail).toContain('2 of it are not done')
    for (const environment of ['staging', 'kiln 4'])
      await done({ number: 2, revision: 1, environment, outcome: 'skipped', words: 'No bell here' })
    expect((await sign(ines, true)).body.signed).toMatchObject({ by: 'person:ines', words: 'All seen' })
    expect((await done({ revision: 3 })).body.detail).toContain('Take the signature back')
    expect((await sign(ines, false)).body.signed).toBeNull()
    expect((await ines('/projects/EMB/test-plans')).body.rows).toMatchObject([
      { name: 'October', cases: 2, progress: { passed: 2, skipped: 2, open: 0 } },
    ])
  })
})

describe('a case that somebody else writes anew', () => {
  test('keeps its ties to what its writer may not see, and does not tell them', async () => {
    const { key } = (await ines('/items', { method: 'POST', body: { project: 'EMB', title: 'A way in', isConfidential: true } })).body
    const secret = { ...LID, title: 'Nobody gets in', verifies: ['SAF-3', key] }
    const { number } = (await post(ines, '/cases', secret)).body
    const path = `/projects/EMB/cases/${number}`
    expect((await rafe(path)).body.verifies).toEqual(['SAF-3'])
    expect((await put(rafe, `/cases/${number}`, { ...secret, verifies: ['SAF-3'] })).body.revision).toBe(1)
    expect((await put(rafe, `/cases/${number}`, { ...secret, text: 'At night', verifies: ['SAF-3'] })).body.revision).toBe(2)
    expect((await ines(path)).body.verifies).toEqual(['SAF-3', key])
    expect((await put(rafe, `/cases/${number}`, { ...secret, verifies: [key] })).body.fields.verifies).toContain(key)
  })

  test('is written once for each file, and the items that it verified follow', async () => {
    const send = (csv: string) =>
      ines('/projects/EMB/case-imports?trial=false', { method: 'POST', raw: csv, headers: { 'content-type': 'text/csv' } })
    const { number } = (await post(ines, '/cases', { ...LID, title: 'Knock' })).body
    const twice = `number,title,steps\n${number},Knock once,Press\n${number},Knock twice,Press\n`
    expect((await send(twice)).body).toMatchObject({
      changed: [{ number, line: 2 }],
      problems: [{ line: 3, words: `The number ${number} stands in the file twice` }],
    })
    expect((await ines(`/projects/EMB/cases/${number}`)).body).toMatchObject({ title: 'Knock once', revision: 2, verifies: [] })
  })
})
