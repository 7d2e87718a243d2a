import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import type { Scope } from '@dystracer/core/people/who'
import {
  cloudEvent,
  connectRepository,
  exceptionRequest,
  startApp,
  TestRepository,
  until,
  type Answer,
  type App,
  type Ask,
} from './app-harness.js'

/**
 * Who sends from outside may send what their token is for, about their project, and speaks for nobody: whatever a fact says of a person is
 * a part of the fact.
 */
let app: App
let repo: TestRepository
let sha: string
let ines: Ask
let rafe: Ask

beforeAll(async () => {
  app = await startApp({ config: { mailTrustedHosts: ['mx.emberwick.example'] } })
  repo = new TestRepository()
  sha = repo.commit('src/probe.js', 'one\n', 'Begin\n\nTime: 1h\nFixes: EMB-1')
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  await ines('/items', { method: 'POST', body: { title: 'Relay stays closed', ownerId: 'ines' } })
  app.ctx.journal.write((writer) => {
    const system = { actor: 'system', subjects: [] as string[] }
    writer.append({ ...system, kind: 'project-created', body: { prefix: 'VAU', name: 'Vault', silenceMs: 1000, requirementPrefixes: [] } })
    writer.append({ ...system, kind: 'service-added', body: { name: 'vault', project: 'VAU', repository: 'vault', tagPrefix: 'v' } })
  })
  connectRepository(app, 'kiln', repo.dir)
  connectRepository(app, 'vault', repo.dir)
  await app.server.sync.request('kiln', 'test')
})
afterAll(async () => {
  await app.stop()
  repo.remove()
})

interface Sending {
  scope: Scope
  send(token: string, thing: { repository: string; service: string }): Promise<Answer>
}
let nextId = 1
const post = (path: string, token: string, type: string, raw: string, headers: Record<string, string> = {}) =>
  app.call(path, { method: 'POST', raw, headers: { authorization: `Bearer ${token}`, 'content-type': type, ...headers } })
const event = (type: string, customData: object) => JSON.stringify(cloudEvent(type, `event-${nextId++}`, customData, app.clock.nowMs))
const cloudEvents = (token: string, raw: string) => post('/receive/cloudevents', token, 'application/cloudevents+json', raw)
const telemetry = (token: string, service: string, headers: Record<string, string> = {}) =>
  post(
    '/otlp/v1/logs',
    token,
    'application/json',
    JSON.stringify(exceptionRequest({ service, atMs: app.clock.nowMs, person: 'ines' })),
    headers,
  )
const build = (repository: string) => ({ repository, number: nextId++, sha, branch: 'main', startedAtMs: app.clock.nowMs, by: 'ines' })

/** Everything that programs send, each naming a lead wherever a name can stand. */
const SENDINGS: Record<string, Sending> = {
  telemetry: { scope: 'telemetry', send: (token, { service }) => telemetry(token, service) },
  'a build': {
    scope: 'evidence',
    send: (token, { repository }) =>
      cloudEvents(token, event('dev.cdevents.build.finished.0.2.0', { ...build(repository), outcome: 'passed' })),
  },
  'a deployment': {
    scope: 'evidence',
    send: (token, { service }) =>
      cloudEvents(
        token,
        event('dev.cdevents.service.deployed.0.2.0', {
          deploymentId: `d-${nextId++}`,
          service,
          release: '1.0.0',
          environment: 'production',
          by: 'ines',
        }),
      ),
  },
  'a pull request': {
    scope: 'evidence',
    send: (token, { repository }) =>
      cloudEvents(
        token,
        event('dev.cdevents.change.created.0.3.0', {
          repository,
          number: nextId++,
          title: 'Fixes: EMB-1',
          body: 'Owner: ines',
          state: 'open',
          author: 'ines',
          head: 'main',
          base: 'main',
          headSha: sha,
          mergeSha: null,
          createdAtMs: 1,
          updatedAtMs: 2,
          version: 1,
        }),
      ),
  },
  'a JUnit report': {
    scope: 'evidence',
    send: (token, { repository }) =>
      post(
        `/receive/reports/junit?repository=${repository}&commit=${sha}&build=${nextId++}`,
        token,
        'application/xml',
        '<testsuite name="ines"><testcase name="EMB-1 by ines"/></testsuite>',
      ),
  },
  findings: {
    scope: 'evidence',
    send: (token, { repository }) =>
      post(
        `/receive/reports/sarif?repository=${repository}&commit=${sha}`,
        token,
        'application/sarif+json',
        JSON.stringify({ version: '2.1.0', runs: [{ tool: { driver: { name: 'ines' } }, results: [] }] }),
      ),
  },
  'a source map': {
    scope: 'maps',
    send: (token, { repository }) =>
      post(
        `/receive/sourcemaps?repository=${repository}&release=1.0.0&file=app.js`,
        token,
        'application/json',
        JSON.stringify({ version: 3, file: 'app.js', sources: ['src/app.ts'], names: [], mappings: 'AAAA' }),
      ),
  },
}
const KILN = { repository: 'kiln', service: 'kiln' }
const VAULT = { repository: 'vault', service: 'vault' }
const actors = () =>
  app.ctx.db.prepare<[], { kind: string; actor: string; seq: number }>('SELECT seq, kind, actor FROM journal ORDER BY seq').all()

describe.each(Object.entries(SENDINGS))('%s', (_name, { scope, send }) => {
  test('is taken from a token of its scope, of intake and of an administrator, and from no other', async () => {
    for (const allowed of [scope, 'intake', 'admin'] as const) expect((await send(app.token(allowed), KILN)).status).toBeLessThan(300)
    for (const refused of ['telemetry', 'evidence', 'maps', 'mail', 'read', 'write'] as const)
      if (refused !== scope) expect((await send(app.token(refused), KILN)).status).toBe(403)
    expect((await send('dys_nothing', KILN)).status).toBe(401)
  })

  test('is about the project of its token alone', async () => {
    const token = app.token(scope, { project: 'EMB' })
    expect((await send(token, KILN)).status).toBeLessThan(300)
    // A push has its repository fetched behind the answer, which may write: that is awaited before entries are counted.
    await app.server.sync.request(KILN.repository, 'test')
    const before = actors().length
    const other = await send(token, VAULT)
    if (scope === 'telemetry') {
      expect(other.status).toBe(200)
      expect(other.body.partialSuccess).toMatchObject({ rejectedLogRecords: 1 })
    } else {
      expect(other.status).toBe(403)
      expect(other.body.detail).toContain('project EMB')
      // What there is elsewhere is not told: a made-up name is refused in the same words.
      const made = await send(token, { repository: 'nowhere', service: 'nowhere' })
      expect(made.body.detail.replaceAll('nowhere', 'vault')).toBe(other.body.detail)
    }
    expect(actors()).toHaveLength(before)
  })

  test('speaks for nobody: no entry of the journal has the person whom it names as its actor', async () => {
    const from = actors().at(-1)?.seq ?? 0
    await send(app.token('intake'), KILN)
    const fresh = actors().filter(({ seq }) => seq > from)
    expect(fresh.filter(({ actor }) => actor.includes('ines'))).toEqual([])
  })
})

describe('a mail', () => {
  const mail = (from: string, to: string, results = 'mx.other.example; dmarc=pass header.from=emberwick.example') =>
    `Authentication-Results: ${results}\r\nFrom: ${from}\r\nTo: ${to}\r\nSubject: EMB-1 again\r\nMessage-ID: ` +
    `<${nextId++}@x>\r\n\r\nSaid.\r\n\r\nSeverity: 1\r\nOwner: rafe\r\n`
  const receive = (token: string, raw: string) => post('/receive/mail', token, 'message/rfc822', raw)

  test('is taken from a token of scope mail or an administrator’s, and not from one of intake', async () => {
    const raw = mail('someone@elsewhere.example', 'log@dystracer.example')
    for (const allowed of ['mail', 'admin'] as const) expect((await receive(app.token(allowed), raw)).status).toBe(202)
    for (const refused of ['intake', 'telemetry', 'evidence', 'maps', 'read', 'write'] as const)
      expect((await receive(app.token(refused), raw)).status).toBe(403)
  })

  test('that bears a lead’s address acts as nobody, whoever says that it is proven', async () => {
    const from = actors().at(-1)?.seq ?? 0
    for (const results of [
      'mx.other.example; dmarc=pass header.from=emberwick.example',
      'mx.emberwick.example; dmarc=pass header.from=emberwick.example',
    ])
      await receive(app.token('mail'), mail('ines@emberwick.example', 'log@dystracer.example', results))
    const fresh = actors().filter(({ seq }) => seq > from)
    expect(fresh.length).toBeGreaterThan(0)
    expect(fresh.filter(({ actor }) => actor.includes('ines'))).toEqual([])
    expect((await ines('/items/EMB-1')).body.severity).toBeNull()
  })

  test('becomes a report in the project of its token, or of the prefix that it is sent to', async () => {
    const stranger = (to: string) => mail('someone@elsewhere.example', to)
    expect((await receive(app.token('mail', { project: 'VAU' }), stranger('log@dystracer.example'))).body.key).toMatch(/^VAU-/)
    expect((await receive(app.token('mail'), stranger('vau@dystracer.example'))).body.key).toMatch(/^VAU-/)
    expect((await receive(app.token('mail'), stranger('log@dystracer.example'))).body.key).toMatch(/^EMB-/)
  })
})

test('the hours that a commit books are its author’s and git’s word', async () => {
  await until('the booking', () => actors().some(({ kind }) => kind === 'time-booked'))
  expect(actors().find(({ kind }) => kind === 'time-booked')?.actor).toBe('source:git')
  expect((await ines('/items/EMB-1')).body.spentMinutes).toBe(60)
})

describe('a token that stands in web pages', () => {
  const shop = 'https://shop.emberwick.example'
  const token = () => app.token('telemetry', { project: 'EMB', services: ['kiln'], origins: [shop] })

  test('sends telemetry of its service from its origins, and nothing from elsewhere', async () => {
    const taken = await telemetry(token(), 'kiln', { origin: shop })
    expect([taken.status, taken.headers.get('access-control-allow-origin')]).toEqual([200, shop])
    expect((await telemetry(token(), 'kiln', { origin: 'https://evil.example' })).status).toBe(403)
    expect((await telemetry(token(), 'kiln')).status).toBe(403)
    expect((await telemetry(token(), 'wheel', { origin: shop })).body.partialSuccess).toMatchObject({ rejectedLogRecords: 1 })
    expect((await app.call('/api/v1/items', { headers: { authorization: `Bearer ${token()}`, origin: shop } })).status).toBe(403)
  })

  test('is asked for by the browser first, which hears yes for named origins alone', async () => {
    token()
    const ask = (origin: string) =>
      app.call('/otlp/v1/logs', { method: 'OPTIONS', headers: { origin, 'access-control-request-method': 'POST' } })
    const yes = await ask(shop)
    expect([yes.status, yes.headers.get('access-control-allow-origin')]).toEqual([204, shop])
    expect((await ask('https://evil.example')).headers.get('access-control-allow-origin')).toBeNull()
  })

  test('is not to be had for anything else: a program’s token is refused from a page', async () => {
    expect((await telemetry(app.token('telemetry'), 'kiln', { origin: shop })).status).toBe(403)
  })
})

describe('the tokens of a project', () => {
  const make = async (body: object) => ines('/projects/EMB/tokens', { method: 'POST', body })
  // The clock goes on by days here, and tokens are given only by whoever has signed in of late.
  beforeEach(async () => {
    app.clock.nowMs += 60_000
    ines = await app.asks('ines')
    rafe = await app.asks('rafe')
  })

  test('are made by a lead, shown once, listed with their last use, and taken back', async () => {
    const made = await make({ name: 'ci', scope: 'evidence', days: 30 })
    expect(made.status).toBe(201)
    const { token, row } = made.body
    expect((await SENDINGS['a build']?.send(token, KILN))?.status).toBe(202)
    const listed = (await ines('/projects/EMB/tokens')).body.rows.find((known: { tokenId: string }) => known.tokenId === row.tokenId)
    expect(listed).toMatchObject({ name: 'ci', scope: 'evidence', project: 'EMB', madeBy: 'person:ines', lastUsedAtMs: app.clock.nowMs })
    expect(JSON.stringify(listed)).not.toContain(token)
    expect((await ines(`/projects/EMB/tokens/${row.tokenId}`, { method: 'DELETE' })).status).toBe(200)
    expect((await SENDINGS['a build']?.send(token, KILN))?.status).toBe(401)
    expect((await ines(`/projects/EMB/tokens/${row.tokenId}`, { method: 'DELETE' })).status).toBe(404)
  })

  test('end when their time is over, and the refusal says which one and what to do', async () => {
    const { token } = (await make({ name: 'nightly', scope: 'evidence', days: 1 })).body
    app.clock.nowMs += 86_400_001
    const late = await SENDINGS['a JUnit report']?.send(token, KILN)
    expect(late?.status).toBe(401)
    expect(late?.body.detail).toMatch(/The token "nightly" ended on .*Make a new one/)
  })

  test('have a successor beside which the old one goes on for a while', async () => {
    const first = (await make({ name: 'builds', scope: 'evidence' })).body
    const next = await ines(`/projects/EMB/tokens/${first.row.tokenId}/successor`, { method: 'POST', body: { overlapHours: 2 } })
    expect(next.body.row).toMatchObject({ name: 'builds', scope: 'evidence', expiresAtMs: null })
    for (const token of [first.token, next.body.token]) expect((await SENDINGS['a build']?.send(token, KILN))?.status).toBe(202)
    app.clock.nowMs += 2 * 3_600_000 + 1
    expect((await SENDINGS['a build']?.send(first.token, KILN))?.status).toBe(401)
    expect((await SENDINGS['a build']?.send(next.body.token, KILN))?.status).toBe(202)
  })

  test('that would stand in pages name services and send nothing but telemetry', async () => {
    for (const wrong of [
      { name: 'x', scope: 'evidence', origins: ['https://shop.example'] },
      { name: 'x', scope: 'telemetry', origins: ['https://shop.example'] },
      { name: 'x', scope: 'telemetry', services: ['kiln'], origins: ['https://shop.example/path'] },
      { name: 'x', scope: 'admin' },
    ])
      expect((await make(wrong)).status).toBe(422)
  })

  test('of a person have that person’s rights, and nothing that is theirs alone', async () => {
    const own = async (scope: 'read' | 'write') => (await rafe('/me/tokens', { method: 'POST', body: { name: `my ${scope}`, scope } })).body
    const by = (token: string, path: string, body?: object) =>
      app.call(`/api/v1${path}`, { method: body ? 'POST' : 'GET', ...(body && { body }), headers: { authorization: `Bearer ${token}` } })
    const writer = await own('write')
    const logged = await by(writer.token, '/items', { title: 'By my own script' })
    expect([logged.status, logged.body.reporterId]).toEqual([201, 'rafe'])
    const reader = await own('read')
    expect((await by(reader.token, '/items/EMB-1')).status).toBe(200)
    expect((await by(reader.token, '/items', { title: 'No' })).status).toBe(403)
    for (const path of ['/inbox', '/me/tokens']) expect((await by(writer.token, path)).status).toBe(403)
    expect((await by(writer.token, '/me/tokens', { name: 'more', scope: 'write' })).status).toBe(403)
    await rafe(`/me/tokens/${writer.row.tokenId}`, { method: 'DELETE' })
    expect((await by(writer.token, '/items/EMB-1')).status).toBe(401)
  })
})

describe('an Idempotency-Key', () => {
  const keyed = (key: string) => ({ 'idempotency-key': key })
  const keptOf = (key: string) => app.ctx.db.prepare('SELECT count(*) AS n FROM answered_request WHERE key = ?').pluck().get(key)

  test('keeps nothing of a request or an answer that holds a secret', async () => {
    await app.call('/api/v1/session', {
      method: 'POST',
      body: { email: 'ines@emberwick.example', password: 'long enough to pass' },
      headers: keyed('sign-in'),
    })
    await ines('/projects/EMB/tokens', { method: 'POST', body: { name: 'k', scope: 'read' }, headers: keyed('token') })
    expect([keptOf('sign-in'), keptOf('token')]).toEqual([0, 0])
  })

  test('lets two at once act once, and both hear the same', async () => {
    const send = () => rafe('/items/EMB-1/comments', { method: 'POST', body: { text: 'Only once' }, headers: keyed('both') })
    const [one, two] = await Promise.all([send(), send()])
    expect([one.status, one.text]).toEqual([two.status, two.text])
    const { rows } = (await rafe('/items/EMB-1/comments')).body
    expect(rows.filter(({ text }: { text: string }) => text === 'Only once')).toHaveLength(1)
  })

  test('of one guest gives nothing to another', async () => {
    await ines('/projects/EMB/public-form', { method: 'PUT', body: { isOn: true } })
    const first = await app.call('/api/v1/public/EMB/reports', {
      method: 'POST',
      body: { title: 'Hums', description: '' },
      headers: keyed('g'),
    })
    expect(first.status).toBe(201)
    const kept = app.ctx.db.prepare('SELECT asked_by FROM answered_request WHERE key = ?').pluck().get('g')
    expect(kept).toMatch(/^anonymous at /)
  })
})
