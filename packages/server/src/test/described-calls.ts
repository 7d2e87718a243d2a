import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

/** A request as the tests write it down. */
export interface Call {
  /** The path from the root, with its query. */
  path: string
  method: string
  headers: Record<string, string>
  /** What is sent as JSON. */
  body?: unknown
  /** What is sent as it is: a file, or what is no JSON on purpose. */
  raw?: string | Uint8Array | undefined
}

type Sending = (...given: unknown[]) => Promise<Response>
interface Operation {
  operationId: string
  parameters: { name: string; in: 'path' | 'query'; required: boolean }[]
  requestBody?: object
  responses: Record<string, { $ref?: string }>
}
interface Described {
  paths: Record<string, Record<string, Operation>>
  components: {
    responses: Record<string, { content: Record<string, { schema: { allOf: { properties?: { code: { enum: string[] } } }[] } }> }>
  }
}
interface Found {
  operation: Operation
  params: string[]
  query: Record<string, string>
}

const FOLDER = join(import.meta.dirname, '../generated-client')
if (!existsSync(join(FOLDER, 'client.mjs'))) throw new Error('Make the client first: node scripts/generated-client.mjs')
const described = JSON.parse(readFileSync(join(FOLDER, 'openapi.json'), 'utf8')) as Described
const { Api } = (await import(pathToFileURL(join(FOLDER, 'client.mjs')).href)) as {
  Api: new (config: { baseUrl: string; customFetch: typeof fetch }) => Record<string, Record<string, Sending>>
}
const templates = Object.entries(described.paths).map(([template, methods]) => ({
  // A parameter that takes the rest of a path keeps its slashes.
  pattern: new RegExp(
    `^${template
      .replace(/[.]/g, '\\$&')
      .replace(/\{\w+\}(?=.)/g, '([^/]+)')
      .replace(/\{\w+\}$/, '(.+)')}$`,
  ),
  methods,
  parts: template.split('/').length,
}))

/**
 * Sends a request through the client that a generator made of the API's description, and holds the answer against the same: what the
 * description does not tell how to ask, or does not say of the answer's status and code, is an error here.
 * So every test of the server tests the description as well. Only what is no request of the description at
 * all (a path that answers nothing, a body that is none) goes by itself, and must be refused.
 */
export async function callAsDescribed(baseUrl: string, call: Call): Promise<Response> {
  const { pathname } = new URL(call.path, baseUrl)
  // A browser's question beforehand is of its own protocol.
  const isOfApi = call.method !== 'OPTIONS' && /^\/(api\/v1|receive|otlp|feeds)\//.test(pathname)
  const found = isOfApi ? findOperation(call) : null
  const response = found ? await send(baseUrl, call, found) : await sendByItself(baseUrl, call)
  if (isOfApi && !found && response.ok) throw new Error(`${call.method} ${call.path} answers, and is not described`)
  if (found) await holdAgainst(found.operation, call, response)
  return response
}

function findOperation({ path, method, body, raw }: Call): Found | null {
  const { pathname, searchParams } = new URL(path, 'http://here')
  const candidates = templates.filter(({ pattern, methods }) => pattern.test(pathname) && methods[method.toLowerCase()])
  // A parameter matches what another path names: the one with more parts, then with fewer parameters, is meant.
  const best = candidates.toSorted((a, b) => b.parts - a.parts || groups(a.pattern) - groups(b.pattern))[0]
  const operation = best?.methods[method.toLowerCase()]
  if (!best || !operation) return null
  const query = Object.fromEntries(searchParams)
  const known = new Set(operation.parameters.filter((each) => each.in === 'query').map(({ name }) => name))
  if (Object.keys(query).some((name) => !known.has(name))) return null
  const isEmpty = raw === undefined && (body === undefined || (isObject(body) && Object.keys(body).length === 0))
  if (operation.requestBody === undefined && !isEmpty) return null
  return { operation, params: best.pattern.exec(pathname)?.slice(1) ?? [], query }
}
const isObject = (value: unknown): value is object => typeof value === 'object' && value !== null
const groups = (pattern: RegExp) => pattern.source.split('(').length

async function send(baseUrl: string, call: Call, { operation, params, query }: Found): Promise<Response> {
  const client = new Api({
    baseUrl,
    // The generator's client writes JSON alone; a file is put in where the request is sent.
    customFetch: (url, init) =>
      fetch(url, call.raw === undefined ? init : { ...init, headers: call.headers, body: call.raw as RequestInit['body'] }),
  })
  const sending = Object.values(client).find((group) => isObject(group) && operation.operationId in group)
  const method = sending?.[operation.operationId]
  if (!method) throw new Error(`The generated client has no ${operation.operationId}`)
  const queried = operation.parameters.filter((each) => each.in === 'query')
  const ofQuery = queried.length > 0 ? [query] : []
  const ofBody = operation.requestBody ? [call.body ?? {}] : []
  // Of a JSON body the client says itself what it is.
  const { 'content-type': _said, ...headers } = call.headers
  // A query of which nothing is required may be left out, and stands behind what may not.
  const given = queried.some(({ required }) => required) ? [...ofQuery, ...ofBody] : [...ofBody, ...ofQuery]
  try {
    return await method(...params, ...given, { headers })
  } catch (refused) {
    if (refused instanceof Response) return refused
    throw refused
  }
}

function sendByItself(baseUrl: string, { path, method, headers, body, raw }: Call): Promise<Response> {
  const sent = raw ?? (body === undefined ? undefined : JSON.stringify(body))
  return fetch(`${baseUrl}${path}`, {
    method,
    headers: { ...(body !== undefined && { 'content-type': 'application/json' }), ...headers },
    ...(sent !== undefined && { body: sent as RequestInit['body'] }),
  })
}

async function holdAgainst(operation: Operation, call: Call, response: Response): Promise<void> {
  const { responses } = operation
  const ofStatus = responses[String(response.status)] ?? responses.default
  if (!ofStatus)
    throw new Error(`${call.method} ${call.path} answered ${response.status}, which is not described: ${await response.text()}`)
  const name = ofStatus.$ref?.split('/').at(-1)
  if (!name) return
  const { code } = (await response.clone().json()) as { code: string }
  const codes = described.components.responses[name]?.content['application/problem+json']?.schema.allOf[1]?.properties?.code.enum ?? []
  if (!codes.includes(code)) throw new Error(`${operation.operationId} answered ${code}, which is not described (${codes.join(', ')})`)
}
