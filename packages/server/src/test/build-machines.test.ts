import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { endLostBuilds } from '#subjects/build-machines/machines.commands'
import { removeOldFiles } from '#subjects/build-files/index'
import { sweepBlobs } from '#subjects/talk/blobs'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

const DYS = join(import.meta.dirname, '../../../cli/dist/bundle/dys.mjs')
const PATH = '.dystracer/build.yml'
const JUNIT = '<testsuite name="probe"><testcase name="holds SAF-3" time="0.1"/></testsuite>'
const TESTS = `
starts: { branches: [main, "feature/*"], paths: ["!docs/**"] }
environment: { LEVEL: house }
services:
  - { name: beside, command: "node beside.js", port: 47391 }
steps:
  - name: prepare
    command: echo "made at $LEVEL" > made.txt && node ask.js
    artefacts: [made.txt]
  - name: test
    command: mkdir -p reports && cp probe.xml reports/{shard}.xml && echo part {shard} of $SHARDS in $DYSTRACER_BUILD
    shards: 2
    reports: [reports/*.xml]
  - { name: fail, command: "test ! -e fail.txt", after: [prepare] }
  - { name: after, command: echo never, after: [fail] }
`
let app: App
let repo: TestRepository
let ines: Ask
let token: string
let folder: string

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ines = await app.asks('ines')
  folder = mkdtempSync(join(tmpdir(), 'dystracer-machine-'))
  repo.commit('probe.xml', JUNIT, 'Begin')
  repo.commit('beside.js', "require('http').createServer((q, s) => s.end('here')).listen(47391, '127.0.0.1')\n", 'Beside')
  repo.commit(
    'ask.js',
    "require('http').get('http://127.0.0.1:47391', (r) => (console.log('beside answers', r.statusCode), r.destroy()))\n",
    'Ask',
  )
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  token = app.token('evidence')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
  rmSync(folder, { recursive: true, force: true })
})

const wanted = async (query = '') => (await ines(`/wanted-builds${query}`)).body
const push = () => app.server.sync.request('kiln', 'test')
const receive = (path: string, body: object, by = token) =>
  app.call(`/receive/machines/${path}`, { method: 'POST', body, headers: { authorization: `Bearer ${by}` } })

/** The companion itself, as a machine has it. */
function dys(args: string[], { cwd = folder, env = {} }: { cwd?: string; env?: Record<string, string> } = {}) {
  const child = spawn(process.execPath, [DYS, 'build', ...args], {
    cwd,
    env: { PATH: process.env.PATH, HOME: folder, DYSTRACER_URL: app.url, DYSTRACER_TOKEN: token, NODE_OPTIONS: '', ...env },
  })
  let said = ''
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => {
      said += chunk.toString()
    })
  const ended = new Promise<{ code: number | null; said: string }>((resolve) => child.on('close', (code) => resolve({ code, said })))
  return { child, ended, said: () => said }
}
const machine = (...args: string[]) => dys(['--machine', 'bench-1', '--folder', join(folder, 'builds'), ...args])

describe('a repository that does not say how it is built', () => {
  test('is told what fits its files, and takes it as a change with a pull request', async () => {
    repo.commit('package.json', '{"scripts":{"test":"node --test"}}', 'A package')
    await push()
    const { body } = await ines('/repositories/kiln/build-description')
    expect(body).toMatchObject({ text: null, plan: null, suggestion: { found: [{ what: 'Node.js', by: 'package.json' }] } })
    const trial = await ines('/repositories/kiln/build-description/trial', { method: 'POST', body: { text: 'steps: []' } })
    expect(trial.body).toMatchObject({ plan: null, problems: [{ text: expect.stringContaining('there is none') }] })
    const refused = await ines('/repositories/kiln/build-description', { method: 'POST', body: { text: 'steps: []' } })
    expect(refused).toMatchObject({ status: 422, body: { fields: { text: expect.stringContaining('there is none') } } })
    const proposed = await ines('/repositories/kiln/build-description', { method: 'POST', body: { text: body.suggestion.text } })
    expect(proposed).toMatchObject({ status: 201, body: { branch: 'build-description' } })
    expect(repo.git('show', `build-description:${PATH}`)).toBe(body.suggestion.text.trim())
    expect((await ines(`/pull-requests/kiln/${proposed.body.number}`)).body).toMatchObject({ head: 'build-description', state: 'open' })
    // The same words may be proposed beside it.
    expect((await ines('/repositories/kiln/build-description', { method: 'POST', body: { text: TESTS } })).body.branch).toBe(
      'build-description-2',
    )
  })

  test('is built by nobody: a build that is wanted says what is missing', async () => {
    expect((await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'nowhere' } })).body).toMatchObject({
      fields: { branch: expect.stringContaining('no branch nowhere') },
    })
    const { status, body } = await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })
    expect([status, body.state, body.by]).toEqual([201, 'waiting', 'ines'])
    expect((await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })).body.wantedId).toBe(body.wantedId)
    expect(await machine('--once').ended).toMatchObject({ code: 0 })
    // The proposal was pushed, and is built as it says itself.
    expect((await wanted()).rows).toMatchObject([
      { wantedId: body.wantedId, state: 'ended', outcome: 'broke', machine: 'bench-1', number: 2 },
      { branch: 'build-description', by: null, outcome: 'passed', number: 1 },
    ])
    expect((await ines('/builds/kiln/2')).body.state).toBe('broke')
    expect((await ines('/builds/kiln/2/logs')).body.rows).toMatchObject([
      { errors: 1, marks: [{ text: expect.stringContaining('no .dystracer/build.yml') }] },
    ])
  })
})

describe('a described build', () => {
  test('is started by a push that counts, runs its services, steps and shards, and tells of them', async () => {
    repo.commit(PATH, TESTS, 'Say how it is built')
    await push()
    await until('the push starts a build', async () => (await wanted()).rows[0]?.state === 'waiting')
    expect((await wanted()).rows[0]).toMatchObject({ branch: 'main', by: null, number: null })
    expect(await machine('--once').ended).toMatchObject({ code: 0, said: expect.stringContaining('kiln/3 passed') })
    const { body } = await ines('/builds/kiln/3')
    expect(body).toMatchObject({ state: 'passed', passed: 1, branch: 'main' })
    const steps = body.steps as { step: string; name: string; parent: string | null; outcome: string }[]
    expect(steps.map(({ name, parent, outcome }) => [name, parent, outcome]).sort()).toEqual([
      ['after', null, 'passed'],
      ['fail', null, 'passed'],
      ['prepare', null, 'passed'],
      ['test', null, 'passed'],
      ['test/1 of 2', '3/test', 'passed'],
      ['test/2 of 2', '3/test', 'passed'],
    ])
    const log = async (step: string) => (await ines(`/builds/kiln/3/logs/lines?step=${encodeURIComponent(step)}`)).body.lines as string[]
    expect(await log('test/2 of 2')).toEqual(['part 2 of 2 in 3'])
    expect(await log('prepare')).toEqual(['beside answers 200', 'made.txt: kept.'])
  })

  test('keeps the files that it leaves, by what they hold, for as long as logs', async () => {
    const { rows } = (await ines('/builds/kiln/3/files')).body
    expect(rows).toMatchObject([{ name: 'made.txt', sizeBytes: 14, url: null, sha256: expect.stringMatching(/^[0-9a-f]{64}$/) }])
    const address = `/builds/kiln/3/files/${rows[0].fileId}`
    const file = await ines(address)
    expect(file).toMatchObject({ status: 200, text: 'made at house\n' })
    expect(file.headers.get('content-disposition')).toBe('attachment; filename="made.txt"')
    expect((await ines(address.replace('/3/', '/4/'))).status).toBe(404)
    const sha = repo.git('rev-parse', 'HEAD').trim()
    const send = (query: string, raw = '') =>
      app.call(`/receive/build-files?repository=kiln&commit=${sha}&build=3&${query}`, {
        method: 'POST',
        raw,
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/octet-stream' },
      })
    expect(await send('name=image.tar&url=https://files.example/image.tar&sizeBytes=9000000000')).toMatchObject({ status: 200 })
    expect(await send('name=x&url=javascript:alert(1)')).toMatchObject({ status: 422 })
    expect(await send('name=x')).toMatchObject({ status: 422 })
    expect((await ines('/builds/kiln/3/files')).body.rows).toHaveLength(2)
    app.clock.nowMs += 400 * 86_400_000
    removeOldFiles(app.ctx)
    expect(await sweepBlobs(app.ctx)).toBe(1)
    app.clock.nowMs -= 400 * 86_400_000
    expect((await ines('/builds/kiln/3/files')).body.rows).toEqual([])
  })

  test('that breaks keeps what comes after from beginning; one that is repeated is a further attempt of the same build', async () => {
    repo.commit('fail.txt', 'x', 'Break it')
    await push()
    await until('the push starts a build', async () => (await wanted()).rows[0]?.state === 'waiting')
    await machine('--once').ended
    const { body } = await ines('/builds/kiln/4')
    expect(body.state).toBe('broke')
    expect((body.steps as { name: string; outcome: string }[]).find(({ name }) => name === 'after')).toBeUndefined()
    expect((await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { again: 99 } })).status).toBe(422)
    const again = await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { again: 4 } })
    expect(again).toMatchObject({ status: 201, body: { number: 4, isAgain: true } })
    await machine('--once').ended
    expect((await wanted('?repository=kiln')).rows[0]).toMatchObject({ number: 4, outcome: 'broke' })
    expect((await ines('/builds/kiln/4/logs')).body.rows.filter((log: { step: string }) => log.step === 'prepare')).toHaveLength(2)
  })

  test('is not started by what does not count: another branch, paths that are left out, a branch without commits of its own', async () => {
    repo.git('rm', '--quiet', 'fail.txt')
    repo.commit('docs/a.md', 'a', 'Only words')
    repo.git('branch', 'feature/same')
    repo.git('checkout', '--quiet', '-b', 'topic')
    repo.commit('src/a.c', 'a', 'On a topic')
    repo.git('checkout', '--quiet', 'main')
    await push()
    const words = repo.commit('docs/b.md', 'b', 'Words again')
    await push()
    // What starts one comes last: all before it was looked at by then.
    const counts = repo.commit('src/c.c', 'c', 'Counts')
    await push()
    const rows = async () => (await wanted()).rows as { branch: string; sha: string }[]
    await until('the push starts a build', async () => (await rows()).some(({ sha }) => sha === counts))
    expect((await rows()).filter(({ branch, sha }) => ['topic', 'feature/same'].includes(branch) || sha === words)).toEqual([])
  })

  test('that waits is replaced by a newer push, and can be stopped; one that runs is stopped with all that it started', async () => {
    for (const text of ['1', '2']) {
      repo.commit('src/b.c', text, `Change ${text}`)
      await push()
      const sha = repo.git('rev-parse', 'HEAD').trim()
      await until('the push starts a build', async () => (await wanted()).rows.some((row: { sha: string }) => row.sha === sha))
    }
    const [open, replaced] = (await wanted()).rows
    expect([open.state, replaced.outcome]).toEqual(['waiting', 'replaced'])
    expect((await ines(`/repositories/kiln/wanted-builds/${open.wantedId}/stop`, { method: 'POST' })).body).toMatchObject({
      state: 'ended',
      outcome: 'stopped',
    })
    repo.commit(PATH, 'steps:\n  - { name: wait, command: "echo begun; sleep 600 & wait" }\n', 'Wait')
    await push()
    const { body } = await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })
    const running = machine('--once')
    await until('it runs', async () => (await wanted()).rows[0].state === 'running')
    expect((await ines(`/repositories/kiln/wanted-builds/${body.wantedId}/stop`, { method: 'POST' })).body.state).toBe('stopping')
    expect(await running.ended).toMatchObject({ code: 0, said: expect.stringContaining('was stopped') })
    expect((await wanted()).rows[0]).toMatchObject({ state: 'ended', outcome: 'stopped' })
    expect((await ines(`/builds/kiln/${(await wanted()).rows[0].number}`)).body.state).toBe('stopped')
  }, 120_000)

  test('may include files of repositories of its project, and of no other', async () => {
    const house = new TestRepository()
    house.commit('node.yml', 'steps: [{ name: install, command: npm ci }, { name: test, command: npm test }]\n', 'House')
    connectRepository(app, 'house', house.dir)
    app.ctx.journal.write((writer) => {
      const body = { name: 'house', project: 'EMB', repository: 'house', tagPrefix: 'v' }
      writer.append({ kind: 'service-added', actor: 'system', subjects: [], body })
    })
    await app.server.sync.request('house', 'test')
    const text = 'include: [{ repository: house, file: node.yml }]\nsteps: [{ name: pack, command: make }]\n'
    const ask = (text: string) => ines('/repositories/kiln/build-description/trial', { method: 'POST', body: { text } })
    expect((await ask(text)).body.plan.steps.map((step: { name: string }) => step.name)).toEqual(['install', 'test', 'pack'])
    expect((await ask(text.replace('node.yml', 'x.yml'))).body.problems[0].text).toContain('no such file')
    expect((await ask(text.replace('house,', 'vault,'))).body.problems[0].text).toContain('no such repository')
    house.remove()
  })
})

describe('a machine', () => {
  test('is seen while it asks, and its silence ends its build', async () => {
    const { body } = await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })
    const taken = (await receive('take', { machine: 'mute', repositories: ['kiln'] })).body.wanted
    expect(taken).toMatchObject({ wantedId: body.wantedId, repository: 'kiln', plan: { steps: [{ name: 'wait' }] } })
    expect((await wanted()).machines.find((one: { name: string }) => one.name === 'mute')).toMatchObject({
      isHere: true,
      wantedId: body.wantedId,
    })
    expect((await receive('beat', { machine: 'other', wantedId: body.wantedId })).status).toBe(404)
    expect((await receive('beat', { machine: 'mute', wantedId: body.wantedId })).body).toEqual({ isStopWanted: false })
    app.clock.nowMs += 181_000
    endLostBuilds(app.ctx)
    expect((await wanted()).rows[0]).toMatchObject({ wantedId: body.wantedId, outcome: 'lost' })
    expect((await ines(`/builds/kiln/${taken.build}`)).body.state).toBe('stopped')
    // It was only away, and knows better.
    await receive('end', { machine: 'mute', wantedId: body.wantedId, outcome: 'passed' })
    await receive('end', { machine: 'mute', wantedId: body.wantedId, outcome: 'broke' })
    expect((await wanted()).rows[0]).toMatchObject({ wantedId: body.wantedId, outcome: 'passed' })
  })

  test('that waits ends when it is asked to, though the server would have it wait longer', async () => {
    const waiting = dys(['--machine', 'patient-1', '--wait'])
    await until('it waits', async () => (await wanted()).machines.some((one: { name: string }) => one.name === 'patient-1'))
    waiting.child.kill('SIGTERM')
    expect(await waiting.ended).toMatchObject({ code: 0, said: expect.not.stringContaining('asked again') })
  }, 15_000)

  test('takes only what its token speaks of, and each build is given once', async () => {
    const { makeToken } = await import('#subjects/people/tokens.commands')
    app.ctx.journal.write((writer) => {
      writer.append({
        kind: 'project-created',
        actor: 'system',
        subjects: [],
        body: { prefix: 'VAU', name: 'Vault', silenceMs: 1, requirementPrefixes: [] },
      })
    })
    const foreign = makeToken(app.ctx.db, { name: 'vault', project: 'VAU', scope: 'evidence', nowMs: app.clock.nowMs })
    const patient = receive('take', { machine: 'patient', patienceMs: 20_000 })
    await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })
    expect((await patient).body.wanted).toMatchObject({ repository: 'kiln' })
    await ines('/repositories/kiln/wanted-builds', { method: 'POST', body: { branch: 'main' } })
    expect((await receive('take', { machine: 'vault-1' }, foreign)).body).toEqual({ wanted: null })
    expect((await receive('take', { machine: 'm' }, app.token('read'))).status).toBe(403)
    const answers = await Promise.all(['m-1', 'm-2', 'm-3'].map((name) => receive('take', { machine: name })))
    expect(answers.filter(({ body }) => body.wanted !== null)).toHaveLength(1)
  })
})

describe('dys build in a folder', () => {
  const here = mkdtempSync(join(tmpdir(), 'dystracer-here-'))
  afterAll(() => rmSync(here, { recursive: true, force: true }))
  const describeBy = (text: string) => {
    rmSync(join(here, '.dystracer'), { recursive: true, force: true })
    mkdirSync(join(here, '.dystracer'))
    writeFileSync(join(here, PATH), text)
  }

  test('does what its description says without a server, and ends as it does', async () => {
    expect(await dys([], { cwd: here }).ended).toMatchObject({ code: 2, said: expect.stringContaining('no .dystracer/build.yml here') })
    describeBy(
      'steps:\n  - { name: one, command: "echo $HOUSE-$SECRET" }\n  - { name: two, command: "exit 3" }\nenvironment: { HOUSE: h }\n',
    )
    const ended = await dys([], { cwd: here, env: { SECRET: 'kept back', DYSTRACER_URL: '', DYSTRACER_TOKEN: '' } }).ended
    expect(ended.code).toBe(1)
    expect(ended.said).toContain('h-\n')
    expect(ended.said).toContain('— two broke')
    describeBy('steps:\n  - { name: one, command: make }\n  - { nam: two }\n')
    expect(await dys([], { cwd: here }).ended).toMatchObject({ code: 2, said: expect.stringContaining(`${PATH}:3: steps › 2 › nam`) })
  })
})
