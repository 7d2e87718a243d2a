import { spawn, spawnSync } from 'node:child_process'
import { createRequire } from 'node:module'
import { join } from 'node:path'

const root = join(import.meta.dirname, '../..')
const CLI = join(root, 'packages/server/dist/cli/main.js')
const Database = createRequire(join(root, 'packages/server/package.json'))('better-sqlite3')

/**
 * A real server on a data folder, with writers that log items, comment, attach files and send
 * errors; it remembers what was answered, and when.
 */
export class AtWork {
  /** Kind and text of what was answered with success, with the time in ns of the monotonic clock when the answer was there. */
  answered = []
  #of
  #server = null
  #headers = { 'content-type': 'application/json' }
  #token = ''
  #turn = 0

  constructor({ dataDir, port, env = {} }) {
    this.#of = { dataDir, port, env }
  }

  /** Starts it; the first time somebody signs up and makes a token. */
  async start() {
    const { dataDir, port, env } = this.#of
    const server = spawn(process.execPath, [CLI, 'start', '--data', dataDir, '--port', String(port)], {
      env: { ...process.env, ...env, NODE_OPTIONS: '', DYSTRACER_KEEP_PER_MINUTE: '10000000', DYSTRACER_REQUESTS_PER_MINUTE: '0' },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    this.#server = server
    const secret = await new Promise((resolve, reject) => {
      let said = ''
      server.stdout.on('data', (chunk) => {
        said += chunk
        if (said.includes('is ready at')) resolve(/sign-up\/([\w-]+)/.exec(said)?.[1])
      })
      server.on('exit', (code) => reject(new Error(`the server ended (${code}): ${said}`)))
    })
    if (this.#token === '') await this.#begin(secret)
  }

  /** Writes from four sides for so long, or until it is killed. */
  async run(forMs) {
    const endAt = Date.now() + forMs
    const lanes = [() => this.#logItem(), () => this.#sendError()]
    await Promise.all(
      [...lanes, ...lanes].map(async (lane) => {
        while (Date.now() < endAt && this.#server !== null)
          try {
            await lane()
          } catch (error) {
            // Killed under this request: it was never answered.
            if (this.#server === null || error.cause) return
            throw error
          }
      }),
    )
  }

  async kill() {
    const server = this.#server
    this.#server = null
    server.removeAllListeners('exit')
    await new Promise((resolve) => {
      server.on('exit', resolve)
      server.kill('SIGKILL')
    })
  }

  async #begin(secret) {
    const project = { name: 'Kiln works', prefix: 'KW' }
    const person = { secret, name: 'Ines Okafor', email: 'ines@emberwick.example', password: 'long enough to pass', project }
    const { response, body } = await this.#call('POST', '/api/v1/sign-up', person)
    const cookie = response.headers.get('set-cookie').split(';')[0]
    this.#headers = { ...this.#headers, cookie, 'x-dystracer-csrf': body.csrfToken }
    this.#token = (await this.#call('POST', '/api/v1/projects/KW/tokens', { name: 'sender', scope: 'telemetry', days: 30 })).body.token
  }

  async #logItem() {
    const turn = this.#turn++
    const title = `item ${turn}`
    const { key } = (await this.#call('POST', '/api/v1/items', { title, project: 'KW', description: 'x'.repeat(turn % 3000) })).body
    this.#done('item', title)
    await this.#call('POST', `/api/v1/items/${key}/comments`, { text: `comment ${turn}` })
    this.#done('comment', `comment ${turn}`)
    if (turn % 5 !== 0) return
    const octets = { 'content-type': 'application/octet-stream' }
    await this.#call('POST', `/api/v1/items/${key}/attachments?name=${turn}.txt`, Buffer.from(`file ${turn} `.repeat(2000)), octets)
    this.#done('attachment', `${turn}.txt`)
  }

  async #sendError() {
    const message = `occurrence ${this.#turn++}`
    const attributes = [
      { key: 'exception.type', value: { stringValue: 'RangeError' } },
      { key: 'exception.message', value: { stringValue: message } },
    ]
    const record = { timeUnixNano: `${Date.now()}000000`, severityNumber: 17, attributes }
    const resource = { attributes: [{ key: 'service.name', value: { stringValue: 'kiln' } }] }
    const sent = { resourceLogs: [{ resource, scopeLogs: [{ logRecords: [record] }] }] }
    await this.#call('POST', '/otlp/v1/logs', sent, { authorization: `Bearer ${this.#token}`, cookie: '' })
    this.#done('occurrence', message)
  }

  #done(kind, text) {
    this.answered.push({ kind, text, atNs: process.hrtime.bigint() })
  }

  async #call(method, path, body, more = {}) {
    const response = await fetch(`http://127.0.0.1:${this.#of.port}${path}`, {
      method,
      headers: { ...this.#headers, ...more },
      body: body instanceof Uint8Array ? body : JSON.stringify(body),
    })
    const text = await response.text()
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`)
    return { response, body: text ? JSON.parse(text) : null }
  }
}

/** What was answered before a moment and is not in the folder; and what `verify` says of it, which looks at attached files as well. */
export function whatIsWrong(folder, answered, untilNs) {
  const verified = spawnSync(process.execPath, [CLI, 'verify', '--data', folder], {
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  })
  const wrong = verified.status === 0 ? [] : [`verify: ${verified.stdout}${verified.stderr}`.slice(0, 600)]
  return [...wrong, ...whatIsMissing(folder, answered, untilNs)]
}

/** What was answered before a moment and is not in the folder. */
export function whatIsMissing(folder, answered, untilNs) {
  const texts = (file, statement) => {
    const db = new Database(join(folder, file), { readonly: true })
    try {
      return new Set(db.prepare(statement).pluck().all())
    } finally {
      db.close()
    }
  }
  const there = {
    item: texts('dystracer.db', 'SELECT title FROM item'),
    comment: texts('dystracer.db', 'SELECT text FROM comment'),
    attachment: texts('dystracer.db', 'SELECT name FROM attachment'),
    occurrence: texts('occurrences.db', 'SELECT message FROM occurrence'),
  }
  return answered
    .filter(({ kind, text, atNs }) => atNs < untilNs && !there[kind].has(text))
    .map(({ kind, text }) => `${kind} “${text}” was answered and is gone`)
}
