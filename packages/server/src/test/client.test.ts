import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { ApiProblem, createClient, type Client } from '@dystracer/core/contract/client'
import { OPERATIONS, OUTSIDE_PATHS } from '@dystracer/core/contract/operations'
import type { OutsidePath } from '@dystracer/core/people/operation'
import { describeOperations, pathOf } from '#platform/http/open-api'
import { startApp, type App } from './app-harness.js'

let app: App
let client: Client

beforeAll(async () => {
  app = await startApp()
  client = createClient({ baseUrl: app.url, fetch, headers: { authorization: `Bearer ${app.token('admin')}` } })
})
afterAll(() => app.stop())

test('the typed client logs, changes, reads and exports over HTTP', async () => {
  const item = await client.logItem({ body: { title: 'Lid does not lock', project: 'EMB', severity: 2 } })
  expect(item).toMatchObject({ key: 'EMB-1', severity: 2 })
  await client.changeItem({ params: { key: item.key }, body: { title: 'The lid does not lock' } })
  await client.addComment({ params: { key: item.key }, body: { text: 'Seen twice' } })
  expect((await client.listItems({ query: { filter: 'open' } })).rows.map((row) => row.title)).toEqual(['The lid does not lock'])
  expect((await client.listComments({ params: { key: item.key }, query: {} })).rows.map((row) => row.text)).toEqual(['Seen twice'])
  expect(await client.exportCsv({ query: { filter: 'open' } })).toContain('The lid does not lock')
  await expect(client.readItem({ params: { key: 'EMB-999' } })).rejects.toBeInstanceOf(ApiProblem)
})

test('every operation of the table is answered by a handler, and nothing is answered that is not in the table', async () => {
  const described = describeOperations(OPERATIONS, OUTSIDE_PATHS) as { paths: Record<string, Record<string, { operationId: string }>> }
  const names = Object.values(described.paths).flatMap((methods) => Object.values(methods).map((method) => method.operationId))
  expect(names.sort()).toEqual([...Object.keys(OPERATIONS), ...Object.keys(OUTSIDE_PATHS)].sort())
  for (const [name, { method, path }] of Object.entries(OPERATIONS)) {
    if (name === 'followLive') continue
    const at = pathOf({ path }).replace(/\{\w+\}/g, 'x')
    const answer = await app.call(at, { method: method.toUpperCase() })
    // A path without a handler says that nothing answers there.
    expect(`${name}: ${answer.text}`).not.toContain('Nothing answers at')
    expect(`${name}: ${answer.status}`).not.toBe(`${name}: 405`)
  }
})

test('what others send in their own protocols is described and answered', async () => {
  const { body } = await app.call('/api/openapi.json')
  for (const [name, { method, path, takes, gives }] of Object.entries<OutsidePath>(OUTSIDE_PATHS)) {
    const described = body.paths[path.replace(/:(\w+)/g, '{$1}')][method]
    expect(described.operationId).toBe(name)
    expect(Object.keys(described.requestBody?.content ?? {})).toEqual(takes?.media ?? [])
    expect(Object.keys(described.responses[gives.status].content)).toEqual(gives.media)
    const answer = await app.call(path.replace(/:\w+/, 'x.ics'), { method: method.toUpperCase() })
    // Who proves nothing is told so; a wrong private link, or a hook that nobody made, is as if it were not there.
    expect(`${name}: ${answer.status}`).toBe(`${name}: ${method === 'get' || name === 'takeHook' ? 404 : 401}`)
    expect(answer.text).not.toContain('Nothing answers at')
  }
})

test('the description holds security, parameters that are required, and problems', async () => {
  const { body } = await app.call('/api/openapi.json')
  expect(body.openapi).toBe('3.1.0')
  expect(Object.keys(body.components.securitySchemes)).toEqual(['token', 'session', 'signature'])
  const upload = body.paths['/api/v1/items/{key}/attachments'].post
  expect(upload.parameters).toContainEqual(expect.objectContaining({ name: 'name', in: 'query', required: true }))
  expect(upload.requestBody.content).toHaveProperty(['application/octet-stream'])
  const { responses } = body.paths['/api/v1/items/{key}'].patch
  expect(Object.keys(responses)).toEqual(expect.arrayContaining(['200', '401', '403', '404', '409', '412', '422', '429', '503']))
  const changed = body.components.responses[responses['412'].$ref.split('/').at(-1)]
  expect(changed.description).toBe('changed-meanwhile: Someone changed this meanwhile')
  expect(changed.content).toHaveProperty(['application/problem+json'])
})
