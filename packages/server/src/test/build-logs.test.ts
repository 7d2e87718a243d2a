import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { LOG_BYTES_MAX } from '@dystracer/core/build-logs/wire'
import { removeOldLogs } from '#subjects/build-logs/index'
import { verifyTables } from '#verify-tables'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let sha: string
let ines: Ask
let token: string

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  ines = await app.asks('ines')
  repo.commit('src/kiln.c', 'int heat;\n', 'Begin')
  sha = repo.git('rev-parse', 'HEAD').trim()
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  token = app.token('evidence')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

interface Piece {
  build?: string
  step?: string
  from?: number
  isLast?: boolean
  by?: string
  run?: string
}
const send = (text: string | Buffer, { build = '1', step, from, isLast, by = token, run }: Piece = {}) => {
  const query = new URLSearchParams({ repository: 'kiln', commit: sha, build, branch: 'main' })
  if (run !== undefined) query.set('run', run)
  if (step !== undefined) query.set('step', step)
  if (from !== undefined) query.set('from', String(from))
  if (isLast !== undefined) query.set('isLast', String(isLast))
  return app.call(`/receive/build-logs?${query}`, {
    method: 'POST',
    raw: text,
    headers: { authorization: `Bearer ${by}`, 'content-type': 'text/plain' },
  })
}
const logs = async (build: string | number) => (await ines(`/builds/kiln/${build}/logs`)).body.rows
const lines = async (build: string | number, query = 'step=log') => (await ines(`/builds/kiln/${build}/logs/lines?${query}`)).body

describe('a log that is sent whole', () => {
  test('begins its build, is read by lines with its colours, and names the files of the repository', async () => {
    const log = 'cc -c kiln.c\n\u001b[31msrc/kiln.c:1:5: error: expected ‘;’\u001b[0m\nother.c:2: warning: unused\nlast'
    expect((await send(log)).body).toEqual({ attempt: 1, bytes: Buffer.byteLength(log), lines: 4, notes: [] })
    expect((await ines('/builds/kiln/1')).body).toMatchObject({ sha, branch: 'main', state: 'running' })
    expect(await logs(1)).toMatchObject([
      {
        step: 'log',
        attempt: 1,
        lines: 4,
        errors: 1,
        warnings: 1,
        marks: [
          { line: 2, kind: 'error', text: 'src/kiln.c:1:5: error: expected ‘;’', place: { path: 'src/kiln.c', line: 1 } },
          { line: 3, kind: 'warning', place: null },
        ],
      },
    ])
    expect(await lines(1, 'step=log&from=2&count=2')).toEqual({
      from: 2,
      lines: ['\u001b[31msrc/kiln.c:1:5: error: expected ‘;’\u001b[0m', 'other.c:2: warning: unused'],
      total: 4,
    })
    expect((await ines('/builds/kiln/1/logs/text?step=log')).text).toBe(
      'cc -c kiln.c\nsrc/kiln.c:1:5: error: expected ‘;’\nother.c:2: warning: unused\nlast\n',
    )
  })

  test('is searched in whatever case, colours left aside; what is not there is said', async () => {
    await send('\u001b[1mKi\u001b[0mln one\nnothing\nKILN two\n', { build: '2' })
    expect((await ines('/builds/kiln/2/logs/found?step=log&text=kiln')).body).toEqual({ lines: [1, 3], isMore: false })
    expect((await ines('/builds/kiln/2/logs/found?step=test&text=kiln')).status).toBe(404)
    expect((await lines(2, 'step=test')).code).toBe('not-found')
  })

  test('the same again changes nothing; one that begins otherwise is a further attempt', async () => {
    await send('first try\nbroke\n', { build: '3' })
    expect((await send('first try\nbroke\n', { build: '3' })).body).toMatchObject({ attempt: 1, lines: 2 })
    expect((await send('second try\npassed\n', { build: '3' })).body).toMatchObject({ attempt: 2, lines: 2 })
    expect((await logs(3)).map((log: { attempt: number }) => log.attempt)).toEqual([1, 2])
    expect((await lines(3, 'step=log&attempt=2')).lines).toEqual(['second try', 'passed'])
  })
})

describe('a log that comes while its step runs', () => {
  test('is the same as in one, however it is cut and whatever is sent twice', async () => {
    const whole = Buffer.from(
      Array.from({ length: 400 }, (_, at) => `${at} °C ${'·'.repeat((at * 7) % 90)}${at % 9 === 0 ? '\r\n' : '\n'}`).join(''),
    )
    await send(whole, { build: '4' })
    let state = 20_261_130
    const below = (most: number) => {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
      return Math.floor((state / 2 ** 32) * most)
    }
    for (const step of ['a', 'b', 'c']) {
      for (let at = 0; at < whole.length; ) {
        const end = Math.min(whole.length, at + 1 + below(3000))
        const from = Math.max(0, at - below(200))
        const answer = await send(whole.subarray(from, end), { build: '4', step, from, isLast: end === whole.length })
        expect(answer.body).toMatchObject({ attempt: 1, bytes: end })
        at = end
      }
      expect((await lines(4, `step=${step}&count=1000`)).lines).toEqual((await lines(4, 'step=log&count=1000')).lines)
    }
    const pieces = app.ctx.db.prepare("SELECT count(*) FROM build_log_piece p JOIN build_log l USING (log_id) WHERE l.step = 'a'").pluck()
    expect(pieces.get()).toBe(1)
  })

  test('a piece ahead of its turn is told where to go on; one that differs is refused, and nothing is lost', async () => {
    await send('one\n', { build: '5', isLast: false })
    const ahead = await send('three\n', { build: '5', from: 8, isLast: false })
    expect([ahead.status, ahead.body.code, ahead.body.facts?.bytes ?? ahead.body.bytes]).toEqual([409, 'conflict', 4])
    expect((await send('onX\ntwo\n', { build: '5', from: 1 })).body.detail).toMatch(/differs/)
    expect((await send('e\ntwo', { build: '5', from: 2 })).body).toMatchObject({ bytes: 7, lines: 2 })
    expect((await lines(5)).lines).toEqual(['one', 'two'])
  })
})

describe('a step that is run again', () => {
  test('is a further attempt by the word for its run, though it begins as before', async () => {
    await send('npm test\n', { build: '9', run: 'one', isLast: false })
    await send('npm test\n', { build: '9', run: 'two', isLast: false })
    await send('broke\n', { build: '9', run: 'one', from: 9 })
    await send('passed\n', { build: '9', run: 'two', from: 9 })
    expect((await lines(9)).lines).toEqual(['npm test', 'broke'])
    expect((await lines(9, 'step=log&attempt=2')).lines).toEqual(['npm test', 'passed'])
    expect((await send('other\n', { build: '9', run: 'two' })).status).toBe(409)
  })
})

describe('what is kept', () => {
  test('ends at the limit, which is said; what comes after is counted and not kept', async () => {
    const line = `${'x'.repeat(4095)}\n`
    const half = Buffer.from(line.repeat(Math.ceil((LOG_BYTES_MAX * 0.6) / line.length)))
    await send(half, { build: '6', isLast: false })
    const answer = await send(half, { build: '6', from: half.length })
    expect(answer.body.notes).toEqual(['Beyond 32 MB it is not kept.'])
    expect(answer.body.bytes).toBe(2 * half.length)
    expect((await logs(6))[0]).toMatchObject({ isCut: true, lines: LOG_BYTES_MAX / line.length })
  })

  test('goes after the days that are set, and not before', async () => {
    await send('old\n', { build: '7' })
    await removeOldLogs(app.ctx)
    expect(await logs(7)).toHaveLength(1)
    app.clock.nowMs += (app.ctx.config.keepDays + 1) * 86_400_000
    await send('new\n', { build: '8' })
    await removeOldLogs(app.ctx)
    ines = await app.asks('ines')
    expect(await logs(7)).toEqual([])
    expect(await logs(8)).toHaveLength(1)
    expect(app.ctx.db.prepare('SELECT count(*) FROM build_log_piece').pluck().get()).toBe(1)
  })

  test('is taken from who may send evidence of the project, and of repositories that are here', async () => {
    expect((await send('x\n', { by: app.token('telemetry') })).status).toBe(403)
    expect((await send('x\n', { by: app.token('evidence', { project: 'XYZ' }) })).status).toBe(403)
    const other = await app.call(`/receive/build-logs?repository=glaze&commit=${sha}&build=1`, {
      method: 'POST',
      raw: 'x\n',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'text/plain' },
    })
    expect(other.status).toBe(404)
  })
})
