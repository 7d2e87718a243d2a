import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { OPERATIONS } from '@dystracer/core/contract/operations'
import { addressOf, type Operation } from '@dystracer/core/people/operation'
import type { Scope } from '@dystracer/core/people/who'
import { roleAllows, type Permission, type Role } from '@dystracer/core/people/permissions'
import { setPassword } from '#subjects/people/passwords'
import { makeToken } from '#subjects/people/tokens.commands'
import { exceptionRequest, startApp, until, type App, type Asked, type Answer } from './app-harness.js'

/**
 * Two projects, five kinds of people and each scope of token against every operation of the table. In the other project (VAU) and in a
 * confidential item
 * stand words that must not be heard by whoever may not hear them: in no body, in no message of the live stream.
 */
const PLANTED = ['vaulted', 'whispered']
let app: App
let confidential: string
type Ask = (path: string, asked?: Asked) => Promise<Answer>

/** What the paths' parameters are filled with, in the project that the asker belongs to and in the other one. */
const PLACES = {
  own: {
    project: 'EMB',
    key: 'EMB-1',
    fault: 'F-1',
    service: 'kiln',
    repository: 'kiln',
    requirement: 'SAF-3',
    release: 'kiln@1.0.0',
    deployment: 'own',
  },
  other: {
    project: 'VAU',
    key: 'VAU-1',
    fault: 'F-2',
    service: 'vault',
    repository: 'vault',
    requirement: 'VLT-1',
    release: 'vault@1.0.0',
    deployment: 'other',
  },
} as const
type Place = keyof typeof PLACES

interface Kind {
  name: string
  role: Role | null
  ask: () => Promise<Ask>
}
const byToken = (scope: Scope): (() => Promise<Ask>) => {
  const token = () => makeToken(app.ctx.db, { name: `${scope} of EMB`, project: 'EMB', scope, nowMs: app.clock.nowMs })
  let made: string | undefined
  return async () => {
    made ??= token()
    return (path, asked = {}) => app.call(`/api/v1${path}`, { ...asked, headers: { authorization: `Bearer ${made}`, ...asked.headers } })
  }
}
const sessions = new Map<string, Promise<Ask>>()
const byPerson = (person: 'ines' | 'rafe' | 'wren' | 'teo' | 'outsider') => () => {
  const known = sessions.get(person) ?? app.asks(person as 'ines')
  sessions.set(person, known)
  return known
}
const KINDS: Kind[] = [
  { name: 'a guest', role: null, ask: async () => (path, asked) => app.call(`/api/v1${path}`, asked) },
  { name: 'somebody without a project', role: null, ask: byPerson('outsider') },
  { name: 'a reader', role: 'reader', ask: byPerson('wren') },
  { name: 'a member', role: 'member', ask: byPerson('rafe') },
  { name: 'a lead', role: 'lead', ask: byPerson('ines') },
  { name: 'an administrator', role: 'admin', ask: byPerson('teo') },
  { name: 'a token that sends everything', role: null, ask: byToken('intake') },
  { name: 'a token that sends errors', role: null, ask: byToken('telemetry') },
  { name: 'a token that sends builds', role: null, ask: byToken('evidence') },
  { name: 'a token that sends source maps', role: null, ask: byToken('maps') },
  { name: 'a token that sends mail', role: null, ask: byToken('mail') },
  { name: 'a token that reads', role: 'reader', ask: byToken('read') },
  { name: 'a token that writes', role: 'member', ask: byToken('write') },
  { name: 'a token that administers', role: 'admin', ask: byToken('admin') },
]

beforeAll(async () => {
  app = await startApp()
  const { ctx, clock } = app
  ctx.journal.write((writer) => {
    const add: typeof writer.append = (draft) => writer.append(draft)
    const system = { actor: 'system', subjects: [] as string[] }
    add({
      ...system,
      kind: 'project-created',
      body: { prefix: 'VAU', name: 'The vaulted project', silenceMs: 1000, requirementPrefixes: ['VLT'] },
    })
    for (const personId of ['outsider', 'vera'])
      add({ ...system, kind: 'person-added', body: { personId, name: personId, initials: 'XX', email: `${personId}@emberwick.example` } })
    add({ ...system, kind: 'role-given', body: { project: 'VAU', personId: 'vera', role: 'admin' } })
    add({ ...system, kind: 'service-added', body: { name: 'vault', project: 'VAU', repository: 'vault', tagPrefix: 'v' } })
    for (const [name, words] of [
      ['kiln', 'Hold the heat'],
      ['vault', 'A vaulted change'],
    ] as const) {
      add({
        ...system,
        kind: 'repository-added',
        subjects: [`repository:${name}`],
        body: { name, url: 'file:///nowhere', mainBranch: 'main' },
      })
      add({
        ...system,
        kind: 'pull-request-seen',
        subjects: [`pull-request:${name}/7`],
        body: {
          repository: name,
          number: 7,
          title: words,
          body: words,
          state: 'open',
          author: 'vera',
          head: name === 'kiln' ? 'hold' : 'vaulted-branch',
          base: 'main',
          headSha: 'a'.repeat(40),
          mergeSha: null,
          createdAtMs: 1,
          updatedAtMs: 1,
          version: 1,
        },
      })
      add({
        ...system,
        kind: 'build-started',
        subjects: [`build:${name}/3`],
        body: { repository: name, number: 3, sha: 'a'.repeat(40), branch: name === 'kiln' ? 'main' : 'vaulted-branch' },
      })
      add({
        ...system,
        kind: 'release-found',
        subjects: [`release:${name}@1.0.0`],
        body: { service: name, name: '1.0.0', tag: name === 'kiln' ? 'v1.0.0' : 'vaulted-1.0.0', sha: 'a'.repeat(40), isRewritten: false },
      })
      const deploymentId = name === 'kiln' ? 'own' : 'other'
      add({ ...system, kind: 'deployment-asked', body: { deploymentId, service: name, release: '1.0.0', environment: 'production' } })
    }
    add({
      ...system,
      kind: 'requirement-written',
      subjects: ['requirement:VLT-1'],
      body: {
        key: 'VLT-1',
        title: 'Vaulted safely',
        text: 'All shall be vaulted.',
        parent: null,
        isHeading: false,
        revision: 1,
        position: 9,
      },
    })
  })
  for (const personId of ['outsider', 'vera']) await setPassword(ctx, personId, 'long enough to pass')
  const rafe = await app.asks('rafe')
  const vera = await app.asks('vera' as 'ines')
  const log = async (ask: Ask, body: object) => (await ask('/items', { method: 'POST', body })).body.key as string
  await log(rafe, { title: 'Kiln overshoots', requirement: 'SAF-3' })
  confidential = await log(await app.asks('ines'), { title: 'A whispered weakness of the lid', isConfidential: true })
  await log(vera, { title: 'A vaulted secret', project: 'VAU', description: 'vaulted deep', labels: ['vaulted'] })
  await vera('/items/VAU-1/comments', { method: 'POST', body: { text: 'Said where it is vaulted' } })
  for (const [service, message] of [
    ['kiln', 'no reading'],
    ['vault', 'the vaulted door is open'],
  ] as const) {
    await app.call('/otlp/v1/logs', {
      method: 'POST',
      body: exceptionRequest({ service, message, atMs: clock.nowMs, place: `at${service} (/srv/${service}/src/door.js:5:3)` }),
      headers: { authorization: `Bearer ${app.token('intake')}` },
    })
    const at = service === 'kiln' ? 1 : 2
    await until(`fault ${at}`, async () => ctx.db.prepare('SELECT count(*) AS n FROM fault').pluck().get() === at)
  }
})
afterAll(() => app.stop())

/** Asks an operation about a thing of a place, with a body that changes nothing: where the right is there, the body is what is refused. */
async function askAbout(ask: Ask, declared: Operation, place: Place): Promise<Answer> {
  const things = PLACES[place]
  const values: Record<string, string> = {
    ...things,
    key: declared.about === 'requirement' ? things.requirement : things.key,
    id: things.deployment,
  }
  const params = Object.fromEntries(
    [...declared.path.matchAll(/[:*](\w+)/g)].map(([, name = '']) => [name, values[name] ?? FILLED[name] ?? '1']),
  )
  const path = addressOf(declared, { params })
  const query = declared.path === '/look-alikes' ? '?title=vaulted+whispered' : declared.path === '/search' ? '?q=vaulted' : ''
  const raw = declared.bodyMedia === 'application/vnd.cyclonedx+json' ? '{"bomFormat":"CycloneDX","specVersion":"1.6"}' : undefined
  return ask(`${path}${query}`, { method: declared.method.toUpperCase(), ...(declared.body && { body: {} }), ...(raw && { raw }) })
}
const FILLED: Record<string, string> = {
  sha: 'aaaaaaa',
  number: '7',
  token: 'x',
  secret: 'x',
  importId: 'none',
  tokenId: 'none',
  environment: 'nowhere',
  ruleId: 'none',
  personId: 'nobody',
  sessionId: 'none',
  occurrence: '1',
}

const asked = Object.entries(OPERATIONS as Record<string, Operation>).filter(
  // The stream is listened to by a test of its own; signing in and out, reports and forms ask for no right.
  ([name, { may }]) => name !== 'followLive' && may !== 'anyone',
)

describe.each(KINDS)('$name', ({ name, role, ask }) => {
  const isToken = name.startsWith('a token')
  let isGuest = false
  beforeAll(async () => {
    const who = await ask()
    isGuest = role === null && (await who('/me')).body.person === null && (await who('/places')).status === 401
  })

  test.each(asked)('meets %s as the table says', async (_name, declared) => {
    const who = await ask()
    const [own, other] = await Promise.all([askAbout(who, declared, 'own'), askAbout(who, declared, 'other')])
    const hasRight = declared.may === 'member-of-any' ? role !== null : roleAllows(role, declared.may as Permission)
    const isAllowed = hasRight && !(declared.isPersonal && isToken)
    const refused = isGuest ? 401 : 403
    if (declared.about === 'import') expect(own.status).toBe(role === null ? refused : 404)
    else if (isAllowed) expect([200, 201, 202, 404, 409, 422, 502, 503]).toContain(own.status)
    else expect(own.status).toBe(refused)
    // What lies in the other project is not there for them, whatever their right in their own.
    if (declared.about !== 'nothing') expect(other.status).toBe(role === null || (declared.isPersonal && isToken) ? refused : 404)
    else if (!isAllowed) expect(other.status).toBe(refused)
    for (const { text } of [own, other]) {
      expect(text.toLowerCase()).not.toContain(PLANTED[0])
      if (!roleAllows(role, 'items.read-confidential')) expect(text.toLowerCase()).not.toContain(PLANTED[1])
    }
  })
})

test('the live stream tells nobody of what they may not hear, and a guest nothing', async () => {
  expect((await app.call('/api/v1/live')).status).toBe(401)
  const reader = makeToken(app.ctx.db, { name: 'listener', project: 'EMB', scope: 'read', nowMs: app.clock.nowMs })
  const stop = new AbortController()
  const response = await fetch(`${app.url}/api/v1/live`, { headers: { authorization: `Bearer ${reader}` }, signal: stop.signal })
  let heard = ''
  const listening = (async () => {
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) heard += Buffer.from(chunk).toString('utf8')
  })().catch(() => {})
  const vera = await app.asks('vera' as 'ines')
  const ines = await app.asks('ines')
  await vera('/items/VAU-1', { method: 'PATCH', body: { title: 'Vaulted twice' } })
  await ines(`/items/${confidential}`, { method: 'PATCH', body: { title: 'Whispered again' } })
  await ines('/items/EMB-1', { method: 'PATCH', body: { title: 'Heard by all' } })
  await until('the change that may be heard', () => heard.includes('Heard by all'))
  stop.abort()
  await listening
  for (const word of [...PLANTED, 'VAU-1', confidential]) expect(heard.toLowerCase()).not.toContain(word.toLowerCase())
})

test('whoever belongs to no project hears of no person, no set-up and nothing else of an installation', async () => {
  for (const ask of [(path: string) => app.call(`/api/v1${path}`), await byPerson('outsider')()]) {
    const { body } = await ask('/me')
    expect(body).toMatchObject({ people: [], projects: [], components: [], milestones: [], labels: [], sprints: [], releases: [] })
    expect(body.setup).toMatchObject({ ownFields: [], milestones: [], labels: [], limits: [] })
  }
  // Nor does a member of one project hear who is in another.
  const people = (await (await byPerson('rafe')())('/me')).body.people.map((person: { personId: string }) => person.personId)
  expect(people.sort()).toEqual(['ines', 'rafe', 'teo', 'wren'])
})

test('an item is moved by whoever may log in the project that it goes to', async () => {
  const rafe = await byPerson('rafe')()
  expect((await rafe('/items/EMB-1/move', { method: 'POST', body: { project: 'VAU' } })).status).toBe(403)
})
