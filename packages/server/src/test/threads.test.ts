import { fork } from 'node:child_process'
import { once } from 'node:events'
import { readdirSync, readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { graphOf, warmGraphs } from '#subjects/code/commit-facts'
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

/** The command lines of all processes of this machine that hold a text. */
function processesWith(text: string): string[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
    .flatMap((name) => {
      try {
        return readFileSync(join('/proc', name, 'cmdline'), 'utf8')
      } catch {
        // It ended meanwhile.
        return []
      }
    })
    .filter((line) => line.includes(text))
}

test('the process that runs git ends with its server, and takes with it what git was doing', async () => {
  const mute = createServer(() => {}).listen(0, '127.0.0.1')
  await once(mute, 'listening')
  const url = `http://127.0.0.1:${(mute.address() as AddressInfo).port}/x.git`
  const { dataDir } = app.ctx.config
  const data = {
    volumePath: join(dataDir, 'occurrences.db'),
    dbPath: join(dataDir, 'dystracer.db'),
    mirrorsDir: join(dataDir, 'git'),
    knownHostsFile: join(dataDir, 'known_hosts'),
    allowedHosts: ['127.0.0.1'],
  }
  const child = fork(new URL('../subjects/git/git.worker.js', import.meta.url), [JSON.stringify(data)], {
    serialization: 'advanced',
    execArgv: [],
  })
  const ended = once(child, 'exit')
  child.send({ callId: 1, method: 'mainLine', input: { url, access: null } })
  await until('git asks', async () => processesWith(url).length > 0)
  child.disconnect()
  expect((await ended)[0]).toBe(0)
  await until('git is gone', async () => processesWith(url).length === 0)
  mute.closeAllConnections()
  mute.close()
})

test('the graph of a large repository is read by another process as the server starts, and then is known', async () => {
  const { ctx } = app
  // Spread as the hashes of commits are.
  const nameOf = (index: number) => ((index * 2_654_435_761) % 2 ** 32).toString(16).padStart(8, '0').padEnd(40, '0')
  const inSql = (index: string) => `printf('%08x', ${index} * 2654435761 % 4294967296) || '${'0'.repeat(32)}'`
  ctx.db
    .prepare(
      `WITH RECURSIVE n(value) AS (SELECT 1 UNION ALL SELECT value + 1 FROM n WHERE value < 20000)
       INSERT INTO git_commit SELECT 'kiln', ${inSql('value')},
       CASE WHEN value = 1 THEN '[]' ELSE json_array(${inSql('(value - 1)')}) END, ${inSql('(value / 2)')},
       'Ines', 'ines@emberwick.example', 0, value, 'Turn', '[]', '[]', 0 FROM n`,
    )
    .run()
  await warmGraphs(ctx)
  // What is known is not read again.
  ctx.db.prepare('DELETE FROM git_commit').run()
  const graph = graphOf(ctx, 'kiln')
  expect(graph.size).toBe(20_000)
  expect(graph.isReachable(nameOf(1), nameOf(20_000))).toBe(true)
  expect(graph.get(nameOf(7))).toEqual({ sha: nameOf(7), parents: [nameOf(6)], patchId: nameOf(3), reverts: [] })
  expect(graph.carriersOf(nameOf(3))).toEqual([nameOf(6), nameOf(7)])
})
