import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** CDEvents in the open specification's own shape, without any addition of ours, of the versions 0.3 to 0.5. */
let app: App
let repo: TestRepository
let sha: string
let ines: Ask
let teo: Ask
let nextId = 1
const T0 = Date.UTC(2026, 10, 2, 8)

beforeAll(async () => {
  app = await startApp({ nowMs: T0 })
  repo = new TestRepository()
  sha = repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.git('tag', 'v1.2.0')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  ines = await app.asks('ines')
  teo = await app.asks('teo')
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})
beforeEach(() => {
  app.clock.nowMs += 1000
})

/** A message as the specification's examples show it; `version` is that of the specification. */
function message(
  type: string,
  subject: { id: string; source?: string; content?: object },
  { version = '0.4.1', chainId = '', source = '/ci' } = {},
) {
  const context = { id: `e-${nextId++}`, source, type: `dev.cdevents.${type}`, timestamp: new Date(app.clock.nowMs).toISOString() }
  return {
    // Version 0.5 says `specversion` where those before it say `version`.
    context: { ...context, ...(version.startsWith('0.5') ? { specversion: version } : { version }), ...(chainId && { chainId }) },
    subject: { source, type: type.split('.')[0], content: {}, ...subject },
  }
}
const envelope = (data: ReturnType<typeof message>) => ({
  specversion: '1.0',
  id: data.context.id,
  source: data.context.source,
  type: data.context.type,
  datacontenttype: 'application/json',
  data,
})
const post = (raw: object, type: string, token = app.token('evidence')) =>
  app.call('/receive/cloudevents', {
    method: 'POST',
    raw: JSON.stringify(raw),
    headers: { authorization: `Bearer ${token}`, 'content-type': type },
  })
async function send(data: ReturnType<typeof message>): Promise<{ outcome: string; why: string | null }> {
  const answer = await post(envelope(data), 'application/cloudevents+json')
  expect(answer.status).toBe(202)
  return answer.body.events[0]
}
const build = async (name: string) => (await ines('/builds')).body.rows.find((row: { name: string }) => row.name === name)

test.each(['0.3.0', '0.4.1', '0.5.0'])('a pipeline of version %s is a build; its tasks are steps, its cases results', async (version) => {
  const chainId = `chain-${version}`
  const options = { version, chainId, source: 'https://ci.example.org/kiln' }
  const pipeline = { id: `/runs/nightly-${version}`, content: { pipelineName: 'nightly', uri: 'https://ci.example.org/kiln/1' } }
  expect(await send(message('pipelinerun.queued.0.2.0', pipeline, options))).toMatchObject({ outcome: 'taken' })
  await send(message('pipelinerun.started.0.2.0', pipeline, options))
  expect(await build(`nightly-${version}`)).toMatchObject({ repository: 'kiln', state: 'running', sha: '' })
  const task = { id: 'lint', content: { taskName: 'lint the code', pipelineRun: { id: pipeline.id } } }
  await send(message('taskrun.started.0.2.0', task, options))
  await send(message('taskrun.finished.0.2.0', { ...task, content: { ...task.content, outcome: 'success' } }, options))
  const run = (id: string, outcome: string) =>
    message(
      'testcaserun.finished.0.2.0',
      { id, content: { outcome, reason: 'relay closed', testCase: { id, name: `${id} holds` }, testSuiteRun: { id: 'suite-1' } } },
      options,
    )
  await send(run('SAF-3', 'pass'))
  await send(run('relay', 'fail'))
  await send(message('testcaserun.skipped.0.1.0', { id: 'lid', content: { reason: 'no lid', testCase: { id: 'lid' } } }, options))
  await send(
    message(
      'pipelinerun.finished.0.2.0',
      { ...pipeline, content: { ...pipeline.content, outcome: 'failure', errors: 'one test' } },
      options,
    ),
  )
  const row = await build(`nightly-${version}`)
  expect(row).toMatchObject({ state: 'broke', passed: 1, failed: 1, skipped: 1 })
  const detail = (await ines(`/builds/kiln/${row.number}`)).body
  expect(detail.steps).toMatchObject([{ name: 'lint the code', outcome: 'passed' }])
  expect(detail.tests).toContainEqual(expect.objectContaining({ name: 'relay holds', outcome: 'failed', message: 'relay closed' }))
  expect(detail.tests).toContainEqual(expect.objectContaining({ name: 'SAF-3 holds', verifies: ['SAF-3'] }))
  // A report that names the build by its service's name belongs to it, and tells its commit.
  await app.call(`/receive/reports/junit?repository=kiln&commit=${sha}&branch=main&build=nightly-${version}`, {
    method: 'POST',
    raw: '<testsuite name="s"><testcase name="late"/></testsuite>',
    headers: { authorization: `Bearer ${app.token('evidence')}` },
  })
  expect(await build(`nightly-${version}`)).toMatchObject({ sha, branch: 'main', passed: 2, state: 'broke' })
})

test('a build that only says that it finished stands as its tests say; an artefact of it says commit and success', async () => {
  await send(message('build.finished.0.2.0', { id: 'kiln/quiet', content: {} }))
  expect(await build('quiet')).toMatchObject({ state: 'ended' })
  const purl = `pkg:generic/kiln@1.2.0?vcs_url=git%2Bhttps://git.example.org/kiln.git%40${sha}`
  await send(message('build.finished.0.2.0', { id: 'kiln/made', content: { artifactId: purl } }))
  expect(await build('made')).toMatchObject({ state: 'passed', sha })
  expect(
    await send(message('artifact.published.0.2.0', { id: purl, content: { sbom: { uri: 'https://files.example.org/kiln.json' } } })),
  ).toMatchObject({
    outcome: 'taken',
  })
  await send(message('pipelinerun.finished.0.2.0', { id: 'kiln/broken-off', content: { outcome: 'cancel' } }))
  expect(await build('broken-off')).toMatchObject({ state: 'stopped' })
})

test('a release tells what it was built into, by version or commit; deleted ones say so; only the web’s addresses are links', async () => {
  const tell = (state: string, id: string, content: object = {}) =>
    send(message(`artifact.${state}.0.2.0`, { id, source: '/kiln', content }))
  await tell('packaged', 'pkg:oci/kiln@v1.2.0', { sbom: { uri: 'javascript:alert(1)' } })
  await tell('published', 'pkg:oci/kiln@1.1.0')
  await tell('packaged', `pkg:generic/kiln@nightly?vcs_url=git%2Bhttps://git.example.org/kiln.git%40${sha}`)
  app.clock.nowMs += 1000
  await tell('deleted', 'pkg:oci/kiln@v1.2.0')
  const { rows, total } = (await ines('/releases/kiln@1.2.0/artefacts')).body
  expect(total).toBe(3)
  expect(rows[0]).toEqual({
    purl: 'pkg:oci/kiln@v1.2.0',
    name: 'kiln',
    version: 'v1.2.0',
    state: 'deleted',
    sbomUrl: null,
    atMs: app.clock.nowMs,
  })
  expect(rows.slice(1).map((row: { version: string; sbomUrl: string | null }) => [row.version, row.sbomUrl])).toEqual(
    expect.arrayContaining([
      ['1.2.0', 'https://files.example.org/kiln.json'],
      ['nightly', null],
    ]),
  )
  expect((await ines('/releases/kiln@9.9.9/artefacts')).status).toBe(404)
})

test('a push, a branch and a change have git read; of a change it is said what cannot be known', async () => {
  const newest = repo.commit('src/probe.js', 'two\n', 'Go on')
  expect(
    await send(message('repository.modified.0.2.0', { id: 'https://git.example.org/kiln.git', content: { name: 'kiln', url: repo.dir } })),
  ).toMatchObject({
    outcome: 'taken',
  })
  await until('the push was read', async () => (await ines(`/commits/${newest}`)).status === 200)
  repo.git('branch', 'lid')
  await send(message('branch.created.0.2.0', { id: 'lid', content: { repository: { id: 'kiln', source: 'https://git.example.org' } } }))
  await until('the branch was read', async () => (await ines('/repositories')).text.includes('"lid"'))
  const change = message('change.created.0.3.0', {
    id: 'change-9',
    content: { description: 'Open the lid', repository: { id: 'emberwick/kiln' } },
  })
  expect(await send(change)).toMatchObject({ outcome: 'passed over', why: expect.stringContaining('Git was read') })
})

test('a service that was deployed runs the artefact’s version in the environment; one that is not set up waits for it', async () => {
  const deployed = (environment: string) =>
    message('service.deployed.0.2.0', {
      id: 'service/kiln',
      content: { environment: { id: environment }, artifactId: 'pkg:oci/kiln@1.2.0' },
    })
  expect(await send(deployed('production'))).toMatchObject({ outcome: 'taken' })
  const runsIn = async () => (await ines('/releases')).body.services[0].releases[0].runsIn
  expect(await runsIn()).toEqual(['production'])
  expect(await send(deployed('studio-3'))).toMatchObject({
    outcome: 'kept for later',
    why: expect.stringContaining('environment studio-3'),
  })
  expect(await send(message('environment.created.0.2.0', { id: 'env/studio-3', content: { name: 'studio-3' } }))).toMatchObject({
    outcome: 'taken',
  })
  await until('the deployment was placed', async () => (await runsIn()).includes('studio-3'))
  expect((await ines('/releases')).body.environments).toContainEqual(
    expect.objectContaining({ environment: 'studio-3', kind: 'test', needsApproval: false }),
  )
  expect(await send(message('service.deployed.0.2.0', { id: 'kiln', content: { environment: { id: 'production' } } }))).toMatchObject({
    outcome: 'passed over',
    why: expect.stringContaining('which release'),
  })
})

test('an incident makes one item that waits in Triage; its end is a comment there', async () => {
  const incident = (predicate: string, version: string) =>
    message(`incident.${predicate}.${version}`, {
      id: 'inc-7',
      source: '/watch',
      content: { description: 'Kilns do not answer\nsince eight', service: { id: 'kiln' }, environment: { id: 'production' } },
    })
  await send(incident('detected', '0.2.0'))
  await send(incident('reported', '0.2.0'))
  const waiting = (await ines('/triage')).body.rows.filter((row: { item: { title: string } }) => row.item.title === 'Kilns do not answer')
  expect(waiting).toMatchObject([{ source: 'incident' }])
  await send(incident('resolved', '0.2.0'))
  await send(incident('resolved', '0.2.0'))
  const comments = (await ines(`/items/${waiting[0].item.key}/comments`)).body.rows
  expect(comments[0].text).toContain('The incident is resolved')
})

test('each event of a batch has its own answer', async () => {
  const batch = [
    message('pipelinerun.started.0.2.0', { id: 'kiln/77', content: {} }),
    message('pipelinerun.started.0.2.0', { id: 'nowhere/1', content: {}, source: '/nowhere' }, { source: '/nowhere' }),
    message('ticket.created.0.1.0', { id: 't-1' }),
  ]
  const answer = await post(
    [...batch.map(envelope), { ...envelope(batch[0] as never), id: 'odd', data: { odd: true } }],
    'application/cloudevents-batch+json',
  )
  expect(answer.status).toBe(202)
  expect(answer.body.events).toEqual([
    { id: batch[0]?.context.id, outcome: 'taken', why: null },
    { id: batch[1]?.context.id, outcome: 'kept for later', why: expect.stringContaining('nowhere') },
    { id: batch[2]?.context.id, outcome: 'passed over', why: expect.stringContaining('dev.cdevents.ticket.created') },
    { id: null, outcome: 'refused', why: expect.stringContaining('Not a CDEvents message') },
  ])
  expect(await build('77')).toMatchObject({ number: 77, state: 'running' })
})

test('of another project’s repository a token learns nothing, and nothing of it is stored there', async () => {
  app.ctx.journal.write((writer) => {
    const system = { actor: 'system', subjects: [] as string[] }
    writer.append({ ...system, kind: 'project-created', body: { prefix: 'VAU', name: 'Vault', silenceMs: 1000, requirementPrefixes: [] } })
    writer.append({ ...system, kind: 'service-added', body: { name: 'vault', project: 'VAU', repository: 'vault', tagPrefix: 'v' } })
  })
  connectRepository(app, 'vault', repo.dir)
  const token = app.token('evidence', { project: 'EMB' })
  const asked = (repository: string) =>
    post(
      envelope(
        message('pipelinerun.started.0.2.0', { id: `${repository}/5`, content: { repository: { id: repository } } }, { source: '/' }),
      ),
      'application/cloudevents+json',
      token,
    )
  const [other, nowhere] = [await asked('vault'), await asked('nothere')]
  expect([other.status, nowhere.status]).toEqual([403, 403])
  expect(other.body.detail).toBe(nowhere.body.detail.replace('nothere', 'vault'))
  expect((await teo('/builds/vault/5')).status).toBe(404)
})

test('what the events left is what the journal says', () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
})
