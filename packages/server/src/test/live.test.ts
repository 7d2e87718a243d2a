import { once } from 'node:events'
import { connect, type Socket } from 'node:net'
import { afterEach, beforeEach, expect, test } from '@jest/globals'
import { liveHub } from '#subjects/desk/live-hub'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let rafe: Ask
let headers: Record<string, string>
const open: Socket[] = []
beforeEach(async () => {
  app = await startApp()
  rafe = await app.asks('rafe')
  headers = { authorization: `Bearer ${app.token('read')}` }
})
afterEach(async () => {
  for (const socket of open.splice(0)) socket.destroy()
  await app.stop()
})

/** Follows by a bare socket: what comes is read only where `told` is asked for. */
async function follow(lastHad?: number): Promise<{ socket: Socket; told: () => string }> {
  const { port } = new URL(app.url)
  const socket = connect(Number(port), '127.0.0.1')
  open.push(socket)
  await once(socket, 'connect')
  const lines = [`GET /api/v1/live HTTP/1.1`, `host: 127.0.0.1:${port}`, `authorization: ${headers.authorization}`]
  if (lastHad !== undefined) lines.push(`last-event-id: ${lastHad}`)
  socket.write(`${lines.join('\r\n')}\r\n\r\n`)
  let text = ''
  return {
    socket,
    told: () => {
      if (socket.listenerCount('data') === 0) socket.on('data', (chunk) => (text += String(chunk)))
      return text
    },
  }
}
const log = async (title: string) => (await rafe('/items', { method: 'POST', body: { title } })).body.key as string
const idsIn = (text: string) => [...text.matchAll(/^id: (\d+)$/gm)].map(([, id]) => Number(id))

test('who follows is told every event once and in order, also by going on from the last one', async () => {
  const first = await follow()
  await until('the first follows', () => first.told().includes('event: hello'))
  for (let count = 1; count <= 30; count++) await log(`Relay chatters ${count}`)
  await until('all is told', () => first.told().includes('Relay chatters 30'))
  const [hello = 0, ...ids] = idsIn(first.told())
  expect(ids).toEqual(ids.map((_, index) => hello + 1 + index))
  const half = ids[Math.floor(ids.length / 2)] ?? 0
  const second = await follow(half)
  await until('the rest is told', () => second.told().includes('Relay chatters 30'))
  expect(idsIn(second.told()).slice(1)).toEqual(ids.filter((id) => id > half))
})

test('who does not read is let go, others are told all the same, and nothing is left of them', async () => {
  const reading = await follow()
  const stalled = await Promise.all(Array.from({ length: 4 }, () => follow()))
  for (const { socket } of stalled) socket.pause()
  await until('all follow', () => liveHub(app.ctx).size === 5)
  reading.told()
  const key = await log('Long '.repeat(39))
  // The kernel holds some megabytes for each before anything lies in the server.
  for (let round = 1; round <= 500 && liveHub(app.ctx).size > 1; round++) {
    const last = app.ctx.journal.write((writer) => {
      for (let more = 0; more < 200; more++)
        writer.append({ kind: 'item-dated', actor: 'system', subjects: [`item:${key}`], body: { key, updatedAtMs: app.clock.nowMs } })
      return writer.append({ kind: 'item-dated', actor: 'system', subjects: [`item:${key}`], body: { key, updatedAtMs: app.clock.nowMs } })
        ?.seq
    })
    await until('the reader is told', () => reading.told().includes(`id: ${last}\n`))
  }
  await until('those who do not read are gone', () => liveHub(app.ctx).size === 1, 20_000)
  await log('The last one')
  await until('the reader is told', () => reading.told().includes('The last one'))
}, 60_000)

test('a person follows from forty windows at most; the next is told when to come again', async () => {
  const many = await Promise.all(Array.from({ length: 40 }, () => follow()))
  await until('all follow', () => liveHub(app.ctx).size === 40)
  const refused = await app.call('/api/v1/live', { headers })
  expect([refused.status, refused.body.code, refused.headers.get('retry-after')]).toEqual([429, 'too-many-requests', '60'])
  many[0]?.socket.destroy()
  await until('one left', () => liveHub(app.ctx).size === 39)
  const again = await follow()
  await until('another follows', () => again.told().includes('event: hello'))
})
