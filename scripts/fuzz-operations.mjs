// Asks every operation of a server on the demo's data, with values that stand in earlier answers, values made after the described shapes,
// and values that are spoiled, as several people at once; what it is told is all in /api/openapi.json. An answer may refuse, in words;
// "something went wrong here", an answer that does not fit its own description, an error in the log, or an operation that is slow three
// times in a row ends the run, and so do tables that the journal does not rebuild afterwards.
// usage: node scripts/fuzz-operations.mjs [--minutes 10] [--seed 1] [--go-on]; needs a build. Exits 1 if anything was found; with --go-on
// it goes on after each, and lists what it found.
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { option } from './option.mjs'
import { makeRandom } from './random.mjs'

if (process.argv.includes('--help')) {
  console.log('node scripts/fuzz-operations.mjs [--minutes 10] [--seed 1] [--go-on]')
  process.exit(0)
}
const minutes = option('--minutes', 10)
const seed = option('--seed', 1)
const goesOn = process.argv.includes('--go-on')
const root = join(import.meta.dirname, '..')
const random = makeRandom(seed)
const pick = (list) => list[random(list.length)]
const chance = (percent) => random(100) < percent

/** An answer that takes longer is asked for again; what is slow three times is slow. */
const SLOW_MS = 3000
const ANSWER_MS = 20_000
const PEOPLE = ['ines', 'teo', 'rafe']
/** Asked for, these would take the fuzzer's own right to go on. */
const LEFT_OUT = new Set(['signOut', 'endSessions', 'changePassword', 'followLive'])
const HELD_PER_NAME = 60

const NASTY = [
  '',
  ' ',
  '\0',
  'a'.repeat(5000),
  '../../etc/passwd',
  '<script>alert(1)</script>',
  "'; DROP TABLE item; --",
  '%00',
  '%',
  '"',
  '(((((',
  'open (((owner=',
  '-'.repeat(400),
  '\ud800',
  'İstanbul ﷽',
  '🙂'.repeat(40),
  '--upload-pack=touch /tmp/x',
  '=1+1',
  'NaN',
  '9'.repeat(40),
  '0',
  '-1',
  'null',
  'true',
  '[]',
  '{}',
  'http://127.0.0.1:1/',
  'file:///etc/passwd',
  '2026-02-31',
  'a,b',
  '*',
  '(a+)+$',
  '__proto__',
  'constructor',
]
const WORDS = [
  'kiln',
  'relay',
  'planner',
  'booking',
  'open',
  'production',
  'main',
  'SAF-3',
  'EMB-12',
  'v2.4.1',
  '2026-10-01',
  'fix/EMB-12-relay',
]
const NUMBERS = [0, 1, 2, 3, 7, 60, 1000, -1, 0.5, 1e21, 2 ** 31, Number.MAX_SAFE_INTEGER, 1_790_500_000_000]

/** Values that stood in answers, by the name of what held them. */
const pool = new Map()
function keep(name, value) {
  const held = pool.get(name) ?? []
  pool.set(name, held)
  if (held.includes(value)) return
  if (held.length < HELD_PER_NAME) held.push(value)
  else held[random(HELD_PER_NAME)] = value
}
function harvest(value, name = '', depth = 0) {
  if (depth > 6 || value === null) return
  if (Array.isArray(value)) for (const each of value.slice(0, 8)) harvest(each, name, depth + 1)
  else if (typeof value === 'object') for (const [key, each] of Object.entries(value)) harvest(each, key, depth + 1)
  else if ((typeof value === 'string' && value.length > 0 && value.length < 200) || typeof value === 'number') keep(name, value)
}
/** A value that once stood under this name, or under one that ends so ("itemKey" for "key"). */
function held(name) {
  const names = [...pool.keys()].filter(
    (each) => each.toLowerCase().endsWith(name.toLowerCase()) || name.toLowerCase().endsWith(each.toLowerCase()),
  )
  const fitting = pool.has(name) && chance(70) ? name : pick(names.length > 0 ? names : [...pool.keys()])
  return fitting === undefined ? undefined : pick(pool.get(fitting))
}

function textFor(name, schema) {
  if (chance(12)) return pick(NASTY)
  if (/sha$/i.test(name) && chance(20)) return 'a'.repeat(40)
  const known = chance(65) ? held(name) : undefined
  const text = known === undefined ? Array.from({ length: 1 + random(4) }, () => pick(WORDS)).join(' ') : String(known)
  return schema.maxLength === undefined ? text : text.slice(0, schema.maxLength)
}

/** A value after a described shape; now and then something else altogether. */
function make(schema, name, described, depth = 0) {
  if (chance(3)) return pick([null, pick(NASTY), pick(NUMBERS), [], {}, true])
  if (schema.$ref) return make(described(schema.$ref), name, described, depth)
  if (schema.const !== undefined) return schema.const
  if (schema.enum) return chance(95) ? pick(schema.enum) : textFor(name, {})
  const choices = schema.anyOf ?? schema.oneOf
  if (choices) return make(pick(choices), name, described, depth)
  if (schema.allOf) return Object.assign({}, ...schema.allOf.map((each) => make(each, name, described, depth)))
  switch (Array.isArray(schema.type) ? pick(schema.type) : schema.type) {
    case 'null':
      return null
    case 'boolean':
      return chance(50)
    case 'integer':
    case 'number': {
      const known = held(name)
      if (typeof known === 'number' && chance(50)) return known
      const least = Math.max(schema.minimum ?? schema.exclusiveMinimum ?? 0, -1e6)
      return chance(70) ? least + random(Math.min((schema.maximum ?? least + 50) - least, 1000) + 1) : pick(NUMBERS)
    }
    case 'array': {
      const count = depth > 4 ? 0 : chance(2) ? 300 : (schema.minItems ?? 0) + random(3)
      return Array.from({ length: count }, () => make(schema.items ?? {}, name.replace(/s$/, ''), described, depth + 1))
    }
    case 'object': {
      const made = {}
      for (const [key, each] of Object.entries(schema.properties ?? {}))
        if ((schema.required ?? []).includes(key) ? chance(97) : chance(depth > 4 ? 5 : 40))
          made[key] = make(each, key, described, depth + 1)
      if (schema.additionalProperties && typeof schema.additionalProperties === 'object')
        for (let more = random(3); more > 0; more--) made[textFor(name, {})] = make(schema.additionalProperties, name, described, depth + 1)
      if (chance(2)) made[pick(NASTY)] = pick(NASTY)
      return made
    }
    default:
      return textFor(name, schema)
  }
}

async function freePort() {
  const probe = createServer()
  await new Promise((resolve) => probe.listen(0, '127.0.0.1', resolve))
  const { port } = probe.address()
  await new Promise((resolve) => probe.close(resolve))
  return port
}

const found = []
const tally = new Map()
let asked = 0
const slowest = { ms: 0, what: '' }

/** Notes a fault; without --go-on it is the last. */
function note(what) {
  const text = what.slice(0, 1500)
  // The same fault in other words is the same: numbers and names of the moment are left out.
  const shape = text.replaceAll(/[0-9a-f-]{8,}|\d+/g, '#').slice(0, 160)
  if (found.some((each) => each.shape === shape)) return
  found.push({ shape, text })
  console.error(`\n${text}`)
  if (!goesOn) throw new Error('found')
}

/** One of the people, signed in again whenever what was done took the session. */
class Person {
  #headers = {}
  constructor(url, name) {
    this.url = url
    this.name = name
  }

  async signIn() {
    const response = await fetch(`${this.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: `${this.name}@emberwick.example`, password: `${this.name}-emberwick` }),
    })
    const body = await response.json()
    if (!response.ok) return false
    this.#headers = { cookie: response.headers.get('set-cookie').split(';')[0], 'x-dystracer-csrf': body.csrfToken }
    return true
  }

  /** Asks one operation; gives status, code and how long it took. */
  async ask({ method, path, body, media }) {
    const startMs = performance.now()
    const response = await fetch(`${this.url}${path}`, {
      method: method.toUpperCase(),
      headers: { ...this.#headers, ...(body !== undefined && { 'content-type': media }) },
      body: body === undefined ? undefined : media === 'application/json' ? JSON.stringify(body) : body,
      signal: AbortSignal.timeout(ANSWER_MS),
      redirect: 'manual',
    })
    const text = await response.text()
    return { status: response.status, text, type: response.headers.get('content-type') ?? '', tookMs: performance.now() - startMs }
  }
}

/** Everything that can be asked, as the server describes it. */
async function operationsOf(url) {
  const document = await (await fetch(`${url}/api/openapi.json`)).json()
  const described = (ref) =>
    ref
      .split('/')
      .slice(1)
      .reduce((at, name) => at[name.replaceAll('~1', '/')], document)
  return Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods)
      .filter(([, operation]) => !LEFT_OUT.has(operation.operationId) && path.startsWith('/api/v1'))
      .map(([method, operation]) => ({ path, method, operation, described })),
  )
}

function requestOf({ path, method, operation, described }) {
  const query = new URLSearchParams()
  for (const { name, in: where, required, schema } of operation.parameters ?? [])
    if (where === 'query' && (required || chance(40))) query.set(name, String(make(schema, name, described) ?? ''))
  const filled = path.replaceAll(/\{(\w+)\}/g, (_, name) => encodeURIComponent(well(textFor(name, {}))).slice(0, 900) || '-')
  const [media, content] = Object.entries(operation.requestBody?.content ?? {})[0] ?? []
  const body =
    media === undefined ? undefined : media === 'application/json' ? make(content.schema, '', described) : Buffer.from(textFor('text', {}))
  const search = query.toString()
  return { method, path: `${filled}${search ? `?${search}` : ''}`, body, media }
}
/** A text that can stand in an address at all. */
const well = (text) => text.toWellFormed()

async function tryOne(person, one) {
  const request = requestOf(one)
  const words = `${person.name}: ${request.method} ${request.path} ${JSON.stringify(request.body)?.slice(0, 700) ?? ''}`
  let answer
  try {
    answer = await person.ask(request)
  } catch (error) {
    note(`${words}\n  was not answered: ${error.message} ${error.cause?.message ?? ''}`)
    return
  }
  asked++
  const { operationId } = one.operation
  const counts = tally.get(operationId) ?? { good: 0, refused: 0 }
  tally.set(operationId, counts)
  if (answer.status < 400) counts.good++
  else counts.refused++
  if (answer.status === 401) await person.signIn()
  const isJson = /^application\/(?:problem\+)?json(?![l-])/.test(answer.type)
  const body = isJson && answer.text ? JSON.parse(answer.text) : null
  if (answer.status >= 500 && !['outside-unreachable', 'busy', 'disk-full'].includes(body?.code))
    note(`${words}\n  was answered with ${answer.status} ${answer.text.slice(0, 300)}`)
  else if (answer.status >= 400 && typeof body?.code !== 'string')
    note(`${words}\n  was refused without a problem: ${answer.status} ${answer.text.slice(0, 200)}`)
  else if (!(String(answer.status) in one.operation.responses) && answer.status !== 401)
    note(`${words}\n  was answered with ${answer.status} ${body?.code ?? ''}, which its description does not have`)
  if (answer.tookMs > slowest.ms) Object.assign(slowest, { ms: answer.tookMs, what: operationId })
  if (answer.tookMs > SLOW_MS && request.method === 'get') {
    const again = [await person.ask(request), await person.ask(request)]
    if (again.every(({ tookMs }) => tookMs > SLOW_MS)) note(`${words}\n  took ${Math.round(again[1].tookMs)} ms three times`)
  }
  if (answer.status < 300 && isJson) harvest(body)
}

const dataDir = join(mkdtempSync(join(tmpdir(), 'dystracer-fuzz-operations-')), 'data')
const port = await freePort()
const server = spawn(process.execPath, [join(root, 'packages/demo/dist/main.js'), 'demo', '--port', String(port), '--data', dataDir], {
  stdio: ['ignore', 'pipe', 'pipe'],
  env: { ...process.env, NODE_OPTIONS: '', DYSTRACER_REQUESTS_PER_MINUTE: '0', DYSTRACER_LOG: 'error' },
})
try {
  await new Promise((resolve, reject) => {
    server.stdout.on('data', (chunk) => /is ready at/.test(chunk) && resolve())
    server.on('exit', (code) => reject(new Error(`the server did not start (${code})`)))
    server.stderr.on('data', (chunk) => {
      for (const line of String(chunk)
        .split('\n')
        .filter((each) => each.includes('"level":50') || each.includes('"level":60')))
        try {
          note(`the log says: ${line}`)
        } catch {
          reject(new Error('found'))
        }
    })
  })
  const url = `http://127.0.0.1:${port}`
  const operations = await operationsOf(url)
  const people = PEOPLE.map((name) => new Person(url, name))
  for (const person of people) if (!(await person.signIn())) throw new Error(`${person.name} could not sign in`)
  // What can be read first, so that there is something to ask for.
  for (const one of operations.filter(({ method, path }) => method === 'get' && !path.includes('{'))) await tryOne(people[0], one)
  const endAtMs = Date.now() + minutes * 60_000
  const lane = async (person) => {
    while (Date.now() < endAtMs && server.exitCode === null && (goesOn || found.length === 0)) await tryOne(person, pick(operations))
  }
  await Promise.all(people.map(lane)).catch((error) => {
    if (error.message !== 'found') throw error
  })
  if (server.exitCode !== null) note('the server ended')
  server.removeAllListeners('exit')
  server.kill('SIGINT')
  await new Promise((resolve) => (server.exitCode === null ? server.on('exit', resolve) : resolve()))
  const verified = spawnSync(process.execPath, [join(root, 'packages/server/dist/cli/main.js'), 'verify', '--data', dataDir], {
    encoding: 'utf8',
  })
  if (verified.status !== 0) note(`the journal does not rebuild the tables: ${verified.stdout}${verified.stderr}`)
  const never = operations.filter(({ operation }) => !tally.get(operation.operationId)?.good).map(({ operation }) => operation.operationId)
  console.log(
    `${asked} requests to ${operations.length} operations (${operations.length - never.length} of them also with success), the slowest ` +
      `answer ${Math.round(slowest.ms)} ms (${slowest.what}); ${found.length} faults found`,
  )
  if (process.argv.includes('--never')) console.log(never.join(' '))
} finally {
  server.kill('SIGKILL')
  rmSync(join(dataDir, '..'), { recursive: true, force: true })
}
process.exitCode = found.length === 0 ? 0 : 1
