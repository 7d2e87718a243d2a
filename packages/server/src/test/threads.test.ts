import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { gitWorker } from '#subjects/git/git.client'
import { likenessWorker } from '#subjects/likeness/likeness.client'
import { intakeWorker } from '#subjects/occurrences/intake.client'
import { exceptionRequest, startApp, until, type App } from './app-harness.js'

let app: App
beforeEach(async () => {
  app = await startApp()
})
afterEach(() => app.stop())

const send = (person = 'member-1') =>
  app.call('/otlp/v1/logs', {
    method: 'POST',
    body: exceptionRequest({ atMs: app.clock.nowMs, person }),
    headers: { authorization: `Bearer ${app.token('intake')}` },
  })

describe('a thread that dies', () => {
  test('is started again; meanwhile senders are asked to come again, and health tells the truth', async () => {
    expect((await send()).status).toBe(200)
    expect((await app.call('/healthz')).body).toMatchObject({ status: 'ready', threads: {} })
    const dying = intakeWorker(app.ctx).kill()
    await dying
    const refused = await send()
    expect([refused.status, refused.headers.get('retry-after')]).toEqual([503, '1'])
    const ready = await app.call('/healthz')
    expect([ready.status, Object.keys(ready.body.threads)]).toEqual([503, ['intake']])
    await until('the intake is back', async () => (await send()).status === 200)
    await until('readiness is back', async () => (await app.call('/healthz')).status === 200)
    expect(app.ctx.threads.restarts().intake).toBeGreaterThan(0)
  })

  test('under load loses nothing that was acknowledged, and leaves no sender waiting', async () => {
    let acknowledged = 0
    const statuses = new Set<number>()
    const sender = async (name: number) => {
      for (let round = 0; round < 12; round++) {
        // Somebody else each time: the very same record sent twice is one occurrence.
        const answer = await send(`member-${name}-${round}`)
        statuses.add(answer.status)
        if (answer.status === 200) acknowledged++
        app.clock.nowMs += 1
      }
    }
    const all = Promise.all([sender(1), sender(2), sender(3)])
    await new Promise((resolve) => setTimeout(resolve, 60))
    await intakeWorker(app.ctx).kill()
    await all
    await until('the intake is back', async () => (await app.call('/healthz')).status === 200)
    const stored = app.ctx.volume.prepare('SELECT coalesce(sum(count), 0) FROM fault_group').pluck().get() as number
    expect(stored).toBeGreaterThanOrEqual(acknowledged)
    expect([...statuses].every((status) => status === 200 || status === 503 || status === 429)).toBe(true)
  })

  test.each([
    ['git', () => gitWorker(app.ctx)],
    ['likeness', () => likenessWorker(app.ctx)],
  ] as const)('%s: what it was doing fails at once with a problem that says so, and the next call is answered', async (_name, worker) => {
    const client = worker()
    const call = () =>
      client.name === 'git'
        ? gitWorker(app.ctx).call('readTraces', { traces: [] })
        : likenessWorker(app.ctx).call('find', { text: { id: '', title: 'kiln', text: '', scope: 'EMB', component: null }, limit: 3 })
    await call()
    const underWay = call().then(
      () => 'answered',
      (error: Error & { code?: string }) => error.code,
    )
    await client.kill()
    expect(['answered', 'busy']).toContain(await underWay)
    await expect(call()).rejects.toMatchObject({ code: 'busy' })
    await until('it answers again', () =>
      call().then(
        () => true,
        () => false,
      ),
    )
  })

  test('that does not answer is given up after the deadline', async () => {
    // A host that takes the connection and says nothing.
    const mute = createServer(() => {}).listen(0, '127.0.0.1')
    await once(mute, 'listening')
    const { port } = mute.address() as AddressInfo
    const slow = gitWorker(app.ctx).call('mainLine', { url: `http://127.0.0.1:${port}/x.git`, access: null }, { deadlineMs: 300 })
    await expect(slow).rejects.toMatchObject({ code: 'busy' })
    mute.closeAllConnections()
    mute.close()
  })
})
