// Abuses a server in five ways, and says what memory, its event loop and the answers to somebody else came to meanwhile: filters of as many
// shapes as asked, readers of the live stream who never read, requests that claim to come from everywhere, a clock that jumps by an hour,
// and archives that swell. The server runs here, the abuse comes from another process.
// usage: node scripts/soak.mjs [--shapes 50000] [--readers 500] [--stage NAME]; needs a build. Exits 1 where something is not bounded.
import { fork } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { gzipSync } from 'node:zlib'
import { option } from './option.mjs'
import { makeRandom } from './random.mjs'

const SHAPES = Number(option('--shapes', 50_000))
const READERS = Number(option('--readers', 500))
const HOUR_MS = 3_600_000
const AT_ONCE = 8
const MB = 2 ** 20

/** Runs some works at a time, each by its number. */
async function inLanes(count, work) {
  let next = 0
  const lane = async () => {
    while (next < count) await work(next++)
  }
  await Promise.all(Array.from({ length: AT_ONCE }, lane))
}

/** What the other process does, by the stage; it gives how often each status was answered. */
const ABUSE = {
  async shapes({ url, tokens }) {
    const random = makeRandom(3)
    const pick = (list) => list[random(list.length)]
    const part = () =>
      pick([
        () => `severity${pick(['<', '<=', '=', '>', '>='])}${1 + random(5)}`,
        () => `${pick(['', '-'])}label=l${random(900)}`,
        () => `owner=${pick(['ines', 'rafe', 'none'])}`,
        () => `updated${pick(['>', '<'])}2026-${String(1 + random(12)).padStart(2, '0')}-01`,
        () => `w${random(5000)}`,
        () => `(open or type=${pick(['defect', 'task', 'story'])})`,
        () => `"still ${random(90)}"`,
      ])()
    return counted(SHAPES, async () => {
      const filter = Array.from({ length: 1 + random(12) }, part).join(' ')
      return fetch(`${url}/api/v1/items?filter=${encodeURIComponent(filter)}`, { headers: { authorization: `Bearer ${tokens[0]}` } })
    })
  },
  async readers({ url, tokens }) {
    const { port } = new URL(url)
    const sockets = []
    for (let number = 0; number < READERS; number++) {
      const socket = connect(Number(port), '127.0.0.1')
      socket.on('error', () => {})
      socket.pause()
      await new Promise((resolve) => socket.once('connect', resolve))
      socket.write(`GET /api/v1/live HTTP/1.1\r\nhost: x\r\nauthorization: Bearer ${tokens[number % tokens.length]}\r\n\r\n`)
      sockets.push(socket)
    }
    process.send({ ready: true })
    await new Promise((resolve) => process.once('message', resolve))
    for (const socket of sockets) socket.destroy()
    return { readers: READERS }
  },
  forged: ({ url }) =>
    counted(20_000, (number) =>
      fetch(`${url}/api/v1/items`, {
        headers: {
          'x-forwarded-for': `10.${number % 250}.${(number >> 8) % 250}.${number % 199}`,
          'x-real-ip': `10.0.0.${number % 250}`,
          forwarded: `for=10.1.1.${number % 250}`,
        },
      }),
    ),
  clock: ({ url, tokens }) =>
    counted(20_000, (number) =>
      fetch(`${url}/api/v1/items${number % 20 === 0 ? '' : '?filter=open'}`, {
        method: number % 20 === 0 ? 'POST' : 'GET',
        headers: { authorization: `Bearer ${tokens[number % 2]}`, 'content-type': 'application/json' },
        body: number % 20 === 0 ? JSON.stringify({ title: `Clock ${number}`, project: 'EMB' }) : undefined,
      }),
    ),
  archives: ({ url, admin, intake }) => {
    // A megabyte that swells to a gigabyte, one that is cut off, and a list of a million files that is none.
    const bomb = gzipSync(Buffer.alloc(256 * MB))
    const cut = bomb.subarray(0, bomb.length / 2)
    const zip = zipOf('big.xml', Buffer.alloc(1))
    const kinds = [
      ['/otlp/v1/logs', intake, bomb, { 'content-encoding': 'gzip', 'content-type': 'application/json' }],
      ['/otlp/v1/logs', intake, cut, { 'content-encoding': 'gzip', 'content-type': 'application/x-protobuf' }],
      [
        `/receive/reports/junit?repository=kiln&commit=${'a'.repeat(40)}&build=1`,
        intake,
        bomb,
        { 'content-encoding': 'gzip', 'content-type': 'application/xml' },
      ],
      ['/api/v1/projects/EMB/imports?name=a.csv', admin, zip, { 'content-type': 'application/octet-stream' }],
      ['/api/v1/projects/EMB/requirement-imports?name=a.reqifz', admin, zip, { 'content-type': 'application/octet-stream' }],
    ]
    return counted(400, (number) => {
      const [path, token, body, headers] = kinds[number % kinds.length]
      return fetch(`${url}${path}`, { method: 'POST', headers: { authorization: `Bearer ${token}`, ...headers }, body })
    })
  },
}

async function counted(count, ask) {
  const statuses = {}
  await inLanes(count, async (number) => {
    try {
      const response = await ask(number)
      await response.arrayBuffer()
      statuses[response.status] = (statuses[response.status] ?? 0) + 1
    } catch (error) {
      const name = error.cause?.code ?? error.message
      statuses[name] = (statuses[name] ?? 0) + 1
    }
  })
  return statuses
}

/** A ZIP file with one entry that says to hold four gigabytes of zeros, of which a hundred megabytes are there. */
function zipOf(name) {
  const packed = gzipSync(Buffer.alloc(100 * MB)).subarray(10, -8)
  const local = Buffer.alloc(30)
  local.writeUInt32LE(0x04034b50, 0)
  local.writeUInt16LE(20, 4)
  local.writeUInt16LE(8, 8)
  local.writeUInt32LE(packed.length, 18)
  local.writeUInt32LE(100 * MB, 22)
  local.writeUInt16LE(name.length, 26)
  const central = Buffer.alloc(46)
  central.writeUInt32LE(0x02014b50, 0)
  central.writeUInt16LE(20, 4)
  central.writeUInt16LE(20, 6)
  central.writeUInt16LE(8, 10)
  central.writeUInt32LE(packed.length, 20)
  central.writeUInt32LE(100 * MB, 24)
  central.writeUInt16LE(name.length, 28)
  const end = Buffer.alloc(22)
  const at = local.length + name.length + packed.length
  end.writeUInt32LE(0x06054b50, 0)
  end.writeUInt16LE(1, 8)
  end.writeUInt16LE(1, 10)
  end.writeUInt32LE(central.length + name.length, 12)
  end.writeUInt32LE(at, 16)
  return Buffer.concat([local, Buffer.from(name), packed, central, Buffer.from(name), end])
}

/** What may be, by the stage; what is beyond is told. */
const BOUNDS = { grownMb: 400, probeP99Ms: 400, delayP99Ms: 200 }
const STAGES = {
  shapes: { config: {}, check: (statuses) => Object.keys(statuses).every((status) => status === '200') },
  readers: { config: {}, check: (_, { app, hub }) => hub(app.ctx).size < READERS },
  forged: { config: { requestsPerMinute: 600 }, check: (statuses) => (statuses[429] ?? 0) > 15_000 && !statuses[500] },
  clock: { config: {}, check: (statuses) => Object.keys(statuses).every((status) => status === '200' || status === '201') },
  archives: { config: {}, check: (statuses) => Object.keys(statuses).every((status) => /^4|^503$/.test(status)) },
}

async function runStage(name) {
  const { startApp } = await import('../packages/server/dist/test/app-harness.js')
  const { liveHub } = await import('../packages/server/dist/subjects/desk/live-hub.js')
  const { config, check } = STAGES[name]
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-soak-'))
  const app = await startApp({ config, dataDir, nowMs: Date.now() })
  const tokens = Array.from({ length: 15 }, (_, number) => app.token('write', { name: `soak ${number}` }))
  const probing = app.token('read', { name: 'probe' })
  await fetch(`${app.url}/api/v1/items`, {
    method: 'POST',
    headers: { authorization: `Bearer ${tokens[0]}`, 'content-type': 'application/json' },
    body: JSON.stringify({ title: 'Relay stays closed', project: 'EMB' }),
  })
  globalThis.gc?.()
  const before = process.memoryUsage().rss
  let peak = before
  const delays = monitorEventLoopDelay({ resolution: 5 })
  delays.enable()
  const probes = []
  const prober = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage().rss)
    const startMs = performance.now()
    fetch(`${app.url}/api/v1/items/EMB-1`, { headers: { authorization: `Bearer ${probing}` } }).then(
      async (response) => {
        await response.arrayBuffer()
        probes.push(performance.now() - startMs)
      },
      () => probes.push(Number.POSITIVE_INFINITY),
    )
  }, 50)
  const jumping =
    name === 'clock' ? setInterval(() => (app.clock.nowMs = Date.now() + (Math.floor(Math.random() * 3) - 1) * HOUR_MS), 100) : undefined
  const child = fork(import.meta.filename, ['--abuse', name, '--shapes', String(SHAPES), '--readers', String(READERS)], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })
  child.send({ url: app.url, tokens, intake: app.token('intake'), admin: app.token('admin') })
  const startMs = performance.now()
  const statuses = await new Promise((resolve, reject) => {
    child.on('message', async (message) => {
      if (!message.ready) return resolve(message)
      // The readers stand there, and much happens.
      for (let round = 0; round < 300; round++) {
        app.ctx.journal.write((writer) => {
          for (let more = 0; more < 100; more++)
            writer.append({
              kind: 'item-dated',
              actor: 'system',
              subjects: ['item:EMB-1'],
              body: { key: 'EMB-1', updatedAtMs: Date.now() },
            })
        })
        await new Promise((done) => setTimeout(done, 100))
      }
      const left = liveHub(app.ctx).size
      child.send({ left })
    })
    child.on('exit', (code) => code && reject(new Error(`the abuse ended with ${code}`)))
  })
  const tookS = (performance.now() - startMs) / 1000
  const isAsItShould = check(statuses, { app, hub: liveHub })
  clearInterval(prober)
  clearInterval(jumping)
  delays.disable()
  probes.sort((a, b) => a - b)
  const at = (share) => Math.round(probes[Math.min(probes.length - 1, Math.floor(probes.length * share))] ?? 0)
  const figures = {
    stage: name,
    tookS: Math.round(tookS),
    statuses,
    rssMb: Math.round(before / MB),
    peakMb: Math.round(peak / MB),
    delayP99Ms: Math.round(delays.percentile(99) / 1e6),
    delayMaxMs: Math.round(delays.max / 1e6),
    probeMedianMs: at(0.5),
    probeP99Ms: at(0.99),
    probeMaxMs: at(1),
  }
  await app.stop()
  rmSync(dataDir, { recursive: true, force: true })
  const beyond = [
    figures.peakMb - figures.rssMb > BOUNDS.grownMb && `memory grew by ${figures.peakMb - figures.rssMb} MB`,
    figures.probeP99Ms > BOUNDS.probeP99Ms && `somebody else waited ${figures.probeP99Ms} ms (99th percentile)`,
    figures.delayP99Ms > BOUNDS.delayP99Ms && `the event loop was held up for ${figures.delayP99Ms} ms (99th percentile)`,
    !isAsItShould && 'it was not answered as it should be',
  ].filter(Boolean)
  return { figures, beyond }
}

if (process.argv.includes('--abuse')) {
  process.once('message', async (given) => {
    process.send(await ABUSE[option('--abuse')](given))
    process.disconnect()
  })
} else {
  const stages = option('--stage') === undefined ? Object.keys(STAGES) : [option('--stage')]
  for (const name of stages) {
    const { figures, beyond } = await runStage(name)
    console.log(JSON.stringify(figures))
    for (const words of beyond) console.error(`  ${name}: ${words}`)
    if (beyond.length > 0) process.exitCode = 1
  }
}
