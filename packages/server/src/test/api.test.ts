import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { PROBLEM_CATALOGUE } from '@dystracer/core/basics/problem-catalogue'
import { connectRepository, startApp, type Answer, type App, type Asked } from './app-harness.js'

type Ask = (path: string, asked?: Asked) => Promise<Answer>
let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
beforeAll(async () => {
  app = await startApp()
  connectRepository(app, 'kiln', '/nowhere/at/all')
  ines = await app.as('ines')
  rafe = await app.as('rafe')
  wren = await app.as('wren')
})
afterAll(() => app.stop())

const logItem = async (fields: object = {}): Promise<string> =>
  (await rafe('/api/v1/items', { method: 'POST', body: { title: 'Panel flickers', ...fields } })).body.key

describe('who may do what', () => {
  test('a wrong password and an unknown address get the same answer', async () => {
    const [wrong, unknown] = await Promise.all(
      ['teo@emberwick.example', 'nobody@emberwick.example'].map((email) =>
        app.call('/api/v1/session', { method: 'POST', body: { email, password: 'not the password' } }),
      ),
    )
    expect(wrong?.status).toBe(401)
    expect({ ...wrong?.body, requestId: '' }).toEqual({ ...unknown?.body, requestId: '' })
  })

  test('the session cookie is HttpOnly and SameSite', async () => {
    const answer = await app.call('/api/v1/session', {
      method: 'POST',
      body: { email: 'ines@emberwick.example', password: 'long enough to pass' },
    })
    expect(answer.headers.get('set-cookie')).toMatch(/httponly/i)
    expect(answer.headers.get('set-cookie')).toMatch(/samesite=lax/i)
  })

  test('a stranger may not read a real installation, a reader may not write, a member may not approve', async () => {
    expect((await app.call('/api/v1/items')).body.code).toBe('sign-in-required')
    expect((await wren('/api/v1/items')).status).toBe(200)
    expect((await wren('/api/v1/items', { method: 'POST', body: { title: 'x' } })).body.code).toBe('not-allowed')
    expect((await rafe('/api/v1/requirements/SAF-3', { method: 'PUT', body: { title: 'x', text: 'y' } })).body.code).toBe('not-allowed')
  })

  test('a change without the CSRF token, or from another site, is refused', async () => {
    const without = await rafe('/api/v1/items', { method: 'POST', body: { title: 'x' }, headers: { 'x-dystracer-csrf': '' } })
    const foreign = await rafe('/api/v1/items', { method: 'POST', body: { title: 'x' }, headers: { 'sec-fetch-site': 'cross-site' } })
    expect([without.body.code, foreign.body.code]).toEqual(['csrf-failed', 'csrf-failed'])
  })

  test('guessing passwords runs into a limit with Retry-After', async () => {
    const answers: Answer[] = []
    for (let turn = 0; turn < 7; turn++)
      answers.push(
        await app.call('/api/v1/session', { method: 'POST', body: { email: 'mara@emberwick.example', password: `guess number ${turn}` } }),
      )
    const last = answers.at(-1)
    expect(last?.status).toBe(429)
    expect(Number(last?.headers.get('retry-after'))).toBeGreaterThan(0)
  })
})

describe('items', () => {
  test('logging with the same Idempotency-Key gives the same item', async () => {
    const headers = { 'idempotency-key': 'once' }
    const first = await rafe('/api/v1/items', { method: 'POST', body: { title: 'Logged once' }, headers })
    const second = await rafe('/api/v1/items', { method: 'POST', body: { title: 'Logged once' }, headers })
    expect(first.status).toBe(201)
    expect(second.body.key).toBe(first.body.key)
  })

  test('any change with an Idempotency-Key happens once, and answers the same again', async () => {
    const key = await logItem()
    const headers = { 'idempotency-key': 'comment once' }
    const first = await rafe(`/api/v1/items/${key}/comments`, { method: 'POST', body: { text: 'Said once.' }, headers })
    const second = await rafe(`/api/v1/items/${key}/comments`, { method: 'POST', body: { text: 'Said once.' }, headers })
    expect(second.status).toBe(first.status)
    expect(second.text).toBe(first.text)
    expect((await rafe(`/api/v1/items/${key}/comments`)).body.rows).toHaveLength(1)
    const other = await rafe(`/api/v1/items/${key}/comments`, { method: 'POST', body: { text: 'Said otherwise.' }, headers })
    expect(other.body.code).toBe('conflict')
  })

  test('a change against an older revision is refused, naming the one that is there', async () => {
    const key = await logItem()
    const { headers } = await rafe(`/api/v1/items/${key}`)
    const etag = headers.get('etag') ?? ''
    expect(
      (await ines(`/api/v1/items/${key}`, { method: 'PATCH', body: { title: 'Ines was first' }, headers: { 'if-match': etag } })).status,
    ).toBe(200)
    const late = await rafe(`/api/v1/items/${key}`, { method: 'PATCH', body: { title: 'Rafe was late' }, headers: { 'if-match': etag } })
    expect(late.status).toBe(412)
    expect(late.body.code).toBe('changed-meanwhile')
    expect((await rafe(`/api/v1/items/${key}`)).body.title).toBe('Ines was first')
  })

  test('input that is not acceptable is answered by field', async () => {
    const answer = await rafe('/api/v1/items', { method: 'POST', body: { title: '', severity: 9, surprise: true } })
    expect(answer.status).toBe(422)
    expect(Object.keys(answer.body.fields)).toEqual(expect.arrayContaining(['title', 'severity']))
  })

  test('blocks and parent refuse loops, naming the loop', async () => {
    const [a, b, c] = [await logItem(), await logItem(), await logItem()]
    const block = (from: string, to: string) =>
      rafe(`/api/v1/items/${from}/links`, { method: 'POST', body: { kind: 'blocks', to: { kind: 'item', id: to } } })
    expect((await block(a, b)).status).toBe(200)
    expect((await block(b, c)).status).toBe(200)
    const loop = await block(c, a)
    expect(loop.body.code).toBe('conflict')
    expect(loop.body.detail).toContain(`${c} → ${a} → ${b} → ${c}`)
  })

  test('pages neither repeat nor skip', async () => {
    for (let turn = 0; turn < 12; turn++) await logItem({ title: `Row ${turn}`, severity: 1 + (turn % 3) })
    const seen: string[] = []
    let cursor: string | null = ''
    while (cursor !== null) {
      const page: Answer = await rafe(`/api/v1/items?limit=5${cursor ? `&cursor=${cursor}` : ''}`)
      seen.push(...page.body.rows.map((row: { key: string }) => row.key))
      cursor = page.body.nextCursor
    }
    expect(new Set(seen).size).toBe(seen.length)
    expect(seen.length).toBe((await rafe('/api/v1/items?limit=500')).body.rows.length)
  })
})

describe('problems', () => {
  const provoked = new Set<string>([
    'sign-in-required',
    'not-allowed',
    'csrf-failed',
    'too-many-requests',
    'changed-meanwhile',
    'invalid-input',
    'conflict',
    'wrong-credentials',
  ])
  const cases: [string, string, () => Promise<Answer>][] = [
    ['not-found', 'an item that is not there', () => rafe('/api/v1/items/EMB-99999')],
    ['not-found', 'a path that is not there', () => rafe('/api/v1/nowhere')],
    ['method-not-allowed', 'a method that is not taken', () => rafe('/api/v1/places', { method: 'DELETE' })],
    [
      'malformed-body',
      'a body that is not JSON',
      () => rafe('/api/v1/items', { method: 'POST', raw: '{', headers: { 'content-type': 'application/json' } }),
    ],
    [
      'unsupported-content',
      'another content type',
      () => rafe('/api/v1/items', { method: 'POST', raw: 'a=b', headers: { 'content-type': 'application/x-www-form-urlencoded' } }),
    ],
    [
      'too-large',
      'a body over the limit',
      () =>
        rafe('/api/v1/items', { method: 'POST', raw: Buffer.alloc((1 << 20) + 1, 32), headers: { 'content-type': 'application/json' } }),
    ],
    ['filter-not-understood', 'a filter that makes no sense', () => rafe('/api/v1/items?filter=sevrity%3D1')],
    ['wrong-token', 'a token that is not ours', () => app.call('/api/v1/items', { headers: { authorization: 'Bearer nonsense' } })],
    [
      'outside-unreachable',
      'no code host',
      async () => rafe(`/api/v1/items/${await logItem()}/start`, { method: 'POST', body: { repository: 'kiln' } }),
    ],
  ]
  test.each(cases)('%s: %s', async (code, _name, ask) => {
    const answer = await ask()
    provoked.add(code)
    expect(answer.body.code).toBe(code)
    expect(answer.status).toBe(PROBLEM_CATALOGUE[code as keyof typeof PROBLEM_CATALOGUE].status)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
    expect(answer.body).toMatchObject({ type: `/problems/${code}`, title: expect.any(String), requestId: expect.any(String) })
  })

  test('control characters in an address are not there, wherever they stand', async () => {
    const { status, body } = await rafe('/api/v1/items?filter=%00re%01lay')
    expect([status, body]).toEqual([200, (await rafe('/api/v1/items?filter=relay')).body])
    expect((await rafe('/api/v1/repositories/%00/pictures/efe4fc07f03722ab5f6da7c73c1027242cd89a5e')).status).toBe(404)
    expect((await rafe('/api/v1/items-outline?filter=%00')).status).toBe(200)
  })

  test('every code of the catalogue is provoked here or in the tests of its own subject', () => {
    const elsewhere = [
      'decided-already',
      'ambiguous-reference',
      'wrong-signature',
      'gate-closed',
      'took-too-long',
      'busy',
      'disk-full',
      'second-factor-needed',
      'proof-needed',
      'past-not-open',
      'past-is-read-only',
      'internal',
    ]
    expect(Object.keys(PROBLEM_CATALOGUE).filter((code) => !provoked.has(code) && !elsewhere.includes(code))).toEqual([])
  })

  test('an unexpected failure tells a stranger nothing', async () => {
    const broken = app.ctx.journal.write
    app.ctx.journal.write = () => {
      throw new Error('secret detail')
    }
    try {
      const answer = await rafe('/api/v1/items', { method: 'POST', body: { title: 'x' } })
      expect(answer.status).toBe(500)
      expect(answer.text).not.toContain('secret detail')
      expect(answer.body.code).toBe('internal')
    } finally {
      app.ctx.journal.write = broken
    }
  })
})

test('the description of the API lists every path with its schemas', async () => {
  const { body } = await app.call('/api/openapi.json')
  expect(body.openapi).toBe('3.1.0')
  for (const path of [
    '/items',
    '/items/{key}',
    '/items/{key}/ladder',
    '/items/{key}/links',
    '/items/{key}/history',
    '/items/{key}/comments',
    '/items/{key}/time',
    '/faults',
    '/faults/{fault}',
    '/faults/{fault}/occurrences',
    '/commits/{sha}',
    '/requirements/{key}',
    '/threads/{id}',
    '/releases',
    '/search',
    '/me',
    '/live',
  ])
    expect(Object.keys(body.paths)).toContain(`/api/v1${path}`)
  expect(body.paths['/api/v1/items'].post.requestBody.content['application/json'].schema.properties.title).toMatchObject({
    type: 'string',
    maxLength: 200,
  })
})

test('the live stream tells what happened, and goes on from a cursor', async () => {
  const controller = new AbortController()
  const { headers } = await rafe('/api/v1/me')
  expect(headers.get('set-cookie')).toBeNull()
  const token = app.token('read')
  const key = await logItem({ title: 'Before the stream' })
  const stream = await fetch(`${app.url}/api/v1/live?cursor=0`, {
    headers: { authorization: `Bearer ${token}` },
    signal: controller.signal,
  })
  const reader = (stream.body as ReadableStream<Uint8Array>).getReader()
  let text = ''
  const readUntil = async (part: string) => {
    while (!text.includes(part)) {
      const { value, done } = await reader.read()
      if (done) throw new Error('the stream ended')
      text += Buffer.from(value).toString('utf8')
    }
  }
  await readUntil(`item:${key}`)
  const later = await logItem({ title: 'While it runs' })
  await readUntil(`item:${later}`)
  controller.abort()
  const ids = [...text.matchAll(/^id: (\d+)$/gm)].map((match) => Number(match[1])).slice(1)
  expect(ids).toEqual([...ids].sort((a, b) => a - b))
})
