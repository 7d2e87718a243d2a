// Feeds broken and hostile input to the readers of stack traces and to every intake path of a real server, for as long as asked; says what
// was slowest.
// usage: node scripts/fuzz.mjs [--minutes 10] [--seed 1]; needs a build. Exits 1 at the first input that a reader throws on, that takes
// longer than it may, or that the server answers with 5xx;
// that input is kept in the temporary folder, and the seed says how to meet it again.
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { groupFaults } from '../packages/core/dist/traces/fault-sites.js'
import { groupTrace } from '../packages/core/dist/traces/grouping.js'
import { readTrace } from '../packages/core/dist/traces/read-trace.js'
import { scrubText } from '../packages/core/dist/traces/scrub.js'
import { failedStatement } from '../packages/core/dist/traces/statement.js'
import { StatementIndex } from '../packages/core/dist/traces/statement-index.js'
import { option } from './option.mjs'
import { makeRandom } from './random.mjs'

if (process.argv.includes('--help')) {
  console.log('node scripts/fuzz.mjs [--minutes 10] [--seed 1]')
  process.exit(0)
}
const minutes = option('--minutes', 10)
const seed = option('--seed', 1)
const root = join(import.meta.dirname, '..')
const samples = readFileSync(join(root, 'packages/core/test-data/traces.jsonl'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line))

// A megabyte may cost 50 ms of the processor; what collects garbage meanwhile counts, so an input is slow only when it is so three times.
const MS_PER_MB = 50
const LEAST_MS = 20
const random = makeRandom(seed)
const pick = (list) => list[random(list.length)]

const FRAGMENTS = [
  '\n',
  '\r\n',
  '\0',
  '\u2028',
  '   at ',
  '    at ',
  ' (',
  ')',
  '((((',
  '))))',
  '<<<<',
  '"',
  "'",
  '`',
  ':',
  ':1:2',
  '@',
  '#0 ',
  '#1 0x0 in ',
  '--- End of inner exception',
  ' ---> ',
  'Caused by: ',
  'Suppressed: ',
  '... 9 more',
  'Traceback (most recent call last):\n',
  '  File "',
  ', line ',
  ', in ',
  'During handling of the above exception',
  '  + Exception Group Traceback',
  '  +---------------- 1 ----------------',
  'goroutine 1 [running]:\n',
  'panic: ',
  '\t/x.go:1 +0x1',
  "thread 'main' panicked at ",
  'stack backtrace:\n',
  '   0: ',
  ' called at ',
  ' line ',
  '.',
  '/',
  '\\',
  '[cause]: ',
  '[errors]: [',
  'AggregateError',
  'a'.repeat(900),
  ' '.repeat(900),
  '1'.repeat(60),
  '-'.repeat(300),
  '/'.repeat(300),
  '** (',
  '    (app 1.0) ',
  'Unhandled exception:\n',
  '[previous line repeated 99 more times]',
  'odile@emberwick.example',
  '4111 1111 1111 1111',
  'eyJhbGciOi.eyJhbGciOi.x',
  'token=',
  '😀',
  '\ud800',
]

/** A text with some of it cut, doubled, mixed with another or spoiled by fragments. */
function spoil(text, other) {
  let spoiled = text
  for (let turns = 1 + random(6); turns > 0; turns--) {
    const at = random(spoiled.length + 1)
    const to = Math.min(spoiled.length, at + random(200))
    switch (random(6)) {
      case 0:
        spoiled = spoiled.slice(0, at) + spoiled.slice(to)
        break
      case 1:
        spoiled = spoiled.slice(0, to) + spoiled.slice(at)
        break
      case 2:
        spoiled = spoiled.slice(0, at) + other.slice(random(other.length + 1)) + spoiled.slice(to)
        break
      case 3:
        spoiled = spoiled.slice(0, at) + spoiled.slice(at, to).repeat(1 + random(200)) + spoiled.slice(to)
        break
      default:
        spoiled = spoiled.slice(0, at) + pick(FRAGMENTS).repeat(1 + random(20)) + spoiled.slice(at)
    }
  }
  return spoiled.slice(0, 1_000_000)
}

/** A megabyte of one line that is nearly a frame: what a reader tries again and again on it adds up. */
function wall() {
  const lines = pick(samples).stacktrace.split('\n')
  const line = pick(lines).slice(0, 300)
  const at = random(line.length + 1)
  const unit = pick([pick(FRAGMENTS), line.slice(at, at + 1 + random(4)), `${line.slice(at, at + 1)}.`, `${line.slice(at, at + 1)} `])
  const built = `${line.slice(0, at)}${unit.repeat(Math.ceil(700 / Math.max(1, unit.length)))}${random(2) ? line.slice(at) : ''}`.slice(
    0,
    990,
  )
  return `${random(2) ? `${lines.slice(0, 3).join('\n')}\n` : ''}${`${built}\n`.repeat(1000)}`
}

function fail(what, input) {
  const file = join(tmpdir(), `dystracer-fuzz-${seed}.txt`)
  writeFileSync(file, input)
  console.error(`${what}; seed ${seed}, the input is in ${file}`)
  process.exitCode = 1
  throw new Error(what)
}

const slowest = { ms: 0, chars: 0 }
let read = 0
const index = new StatementIndex()
const held = []

/** One spoiled trace through everything that a trace goes through. */
function tryTrace() {
  const sample = pick(samples)
  const text = random(12) === 0 ? wall() : spoil(sample.stacktrace, pick(samples).stacktrace)
  const hints = {
    type: pick([sample.type, '', text.slice(0, 80)]),
    message: pick([sample.message, spoil(sample.message, text)]),
    runtime: pick([undefined, sample.runtime, 'x']),
  }
  const once = () => {
    const before = process.cpuUsage()
    const trace = readTrace(text, hints)
    const grouping = groupTrace(trace)
    const statement = failedStatement(trace)
    scrubText(text)
    const used = process.cpuUsage(before)
    return { ms: (used.user + used.system) / 1000, trace, grouping, statement }
  }
  try {
    let result = once()
    const may = Math.max(LEAST_MS, (text.length / 1e6) * MS_PER_MB * 2)
    for (let again = 0; again < 2 && result.ms > may; again++) result = once()
    if (result.ms > may) fail(`a trace of ${text.length} characters took ${Math.round(result.ms)} ms`, text)
    if (result.ms > slowest.ms) Object.assign(slowest, { ms: result.ms, chars: text.length })
    const { exception } = result.trace
    for (const frame of exception.frames)
      for (const value of [frame.line, frame.column]) if (value !== null && !Number.isFinite(value)) fail('a line is no number', text)
    const scrubbed = scrubText(text)
    if (/odile@emberwick\.example/.test(scrubbed)) fail('an address was kept', text)
    const one = { id: String(read), service: 'fuzz', release: String(random(4)), atMs: read, statement: result.statement }
    index.assign(one, () => `f${read}`)
    held.push(one)
    if (held.length === 300) groupFaults(held.splice(0))
    read++
  } catch (error) {
    if (process.exitCode) throw error
    fail(`a reader threw ${error.stack}`, text)
  }
}

const otlp = (message, stacktrace) => ({
  resourceLogs: [
    {
      resource: { attributes: [{ key: 'service.name', value: { stringValue: 'fuzz' } }] },
      scopeLogs: [
        {
          logRecords: [
            {
              timeUnixNano: `${Date.now()}000000`,
              severityNumber: 17,
              attributes: [
                { key: 'exception.type', value: { stringValue: 'Error' } },
                { key: 'exception.message', value: { stringValue: message } },
                { key: 'exception.stacktrace', value: { stringValue: stacktrace } },
              ],
            },
          ],
        },
      ],
    },
  ],
})
const JUNIT =
  '<testsuites><testsuite name="a"><testcase name="SAF-3 kiln" time="0.1"><failure ' +
  'message="m">text</failure></testcase></testsuite></testsuites>'
const SARIF = JSON.stringify({
  version: '2.1.0',
  runs: [
    {
      tool: { driver: { name: 'lint' } },
      results: [
        {
          ruleId: 'r',
          message: { text: 'm' },
          locations: [{ physicalLocation: { artifactLocation: { uri: 'src/a.js' }, region: { startLine: 3 } } }],
        },
      ],
    },
  ],
})
const MAP = JSON.stringify({ version: 3, sources: ['a.ts'], sourcesContent: ['x'], names: [], mappings: 'AAAO,sBACD,YACJ' })
const EVENT = JSON.stringify({
  specversion: '1.0',
  id: '1',
  source: 'x',
  type: 'dev.cdevents.build.finished.0.2.0',
  data: { context: { type: 'dev.cdevents.build.finished.0.2.0' }, subject: { id: '1', content: {} } },
})
const MAIL =
  'From: odile@emberwick.example\r\nTo: emb@dystracer.example\r\nSubject: Kiln too hot\r\nMessage-ID: <1@x>\r\n' +
  'Content-Type: text/plain\r\n\r\nIt is too hot.\r\n'
const PATHS = [
  {
    path: '/otlp/v1/logs',
    type: 'application/json',
    body: () => JSON.stringify(otlp(spoil('hot', pick(samples).stacktrace), spoil(pick(samples).stacktrace, 'x'))),
    isMostlySound: true,
  },
  { path: '/otlp/v1/logs', type: 'application/json', body: () => JSON.stringify(otlp('hot', 'x')) },
  {
    path: '/otlp/v1/traces',
    type: 'application/json',
    body: () =>
      JSON.stringify({ resourceSpans: [{ scopeSpans: [{ spans: [{ name: 'x', events: [{ name: 'exception', attributes: [] }] }] }] }] }),
  },
  {
    path: '/otlp/v1/logs',
    type: 'application/x-protobuf',
    body: () => Buffer.from(pick(samples).stacktrace).subarray(0, 400).toString('latin1'),
  },
  { path: '/otlp/v1/traces', type: 'application/x-protobuf', body: () => '\n\u0012\n\u0010\u0012\u000e\n\fservice.name' },
  { path: '/receive/cloudevents', type: 'application/cloudevents+json', body: () => EVENT },
  { path: '/receive/cloudevents', type: 'application/cloudevents-batch+json', body: () => `[${EVENT}]` },
  { path: `/receive/reports/junit?repository=kiln&commit=${'a'.repeat(40)}&build=1`, type: 'application/xml', body: () => JUNIT },
  { path: `/receive/reports/sarif?repository=kiln&commit=${'a'.repeat(40)}`, type: 'application/json', body: () => SARIF },
  { path: '/receive/sourcemaps?repository=kiln&release=1&file=a.js', type: 'application/json', body: () => MAP },
  { path: '/receive/mail', type: 'message/rfc822', body: () => MAIL },
]

/** One spoiled request to the server; it must be answered, and not with 5xx. */
async function tryRequest(url, token, answered) {
  const { path, type, body, isMostlySound } = pick(PATHS)
  const text = isMostlySound && random(3) > 0 ? body() : spoil(body(), pick(samples).stacktrace)
  const bytes = Buffer.from(text, pick(['utf8', 'latin1']))
  const isZipped = random(4) === 0
  const sent = isZipped ? gzipSync(bytes) : bytes
  if (isZipped && random(3) === 0) sent[random(sent.length)] = random(256)
  const response = await fetch(`${url}${path}`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}`, 'content-type': type, ...(isZipped && { 'content-encoding': 'gzip' }) },
    body: sent,
  })
  await response.arrayBuffer()
  answered[response.status] = (answered[response.status] ?? 0) + 1
  if (response.status >= 500) fail(`${path} was answered with ${response.status}`, sent)
}

const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-fuzz-'))
const cli = join(root, 'packages/server/dist/cli/main.js')
const server = spawn(process.execPath, [cli, 'start', '--data', dataDir, '--port', '4770'], { stdio: ['ignore', 'pipe', 'inherit'] })
const endAtMs = Date.now() + minutes * 60_000
const answered = {}
try {
  await new Promise((resolve, reject) => {
    server.stdout.on('data', (chunk) => /is ready at/.test(chunk) && resolve())
    server.on('exit', () => reject(new Error('the server did not start')))
  })
  const token = spawnSync(process.execPath, [cli, 'token', '--name', 'fuzz', '--scope', 'intake', '--data', dataDir], {
    encoding: 'utf8',
  }).stdout.trim()
  while (Date.now() < endAtMs) {
    for (let turn = 0; turn < 100; turn++) tryTrace()
    for (let turn = 0; turn < 10; turn++) await tryRequest('http://127.0.0.1:4770', token, answered)
    if (server.exitCode !== null) fail('the server ended', '')
  }
  const verified = spawnSync(process.execPath, [cli, 'verify', '--data', dataDir], { encoding: 'utf8' })
  if (verified.status !== 0) fail(`the journal does not rebuild the tables: ${verified.stdout}${verified.stderr}`, '')
  console.log(
    `${read} traces read, the slowest in ${slowest.ms.toFixed(1)} ms (${slowest.chars} characters); answers by status: ` +
      `${JSON.stringify(answered)}; the journal rebuilds the tables`,
  )
} finally {
  server.kill('SIGINT')
  await new Promise((resolve) => (server.exitCode === null ? server.on('exit', resolve) : resolve()))
  rmSync(dataDir, { recursive: true, force: true })
}
