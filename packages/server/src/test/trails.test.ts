import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { TrailKeeper } from '#subjects/telemetry/trail-keeper'
import { intakeWorker } from '#subjects/occurrences/intake.client'
import { startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
beforeAll(async () => {
  app = await startApp()
  ines = await app.asks('ines')
})
afterAll(() => app.stop())

const text = (key: string, value: string) => ({ key, value: { stringValue: value } })
const nanos = (atMs: number) => `${atMs}000000`
interface Log {
  trace?: string
  span?: string
  atMs: number
  words: string
  severity?: number
  error?: string
}
const from = (service: string) => ({
  attributes: [text('service.name', service), text('service.version', '1.0.0'), text('deployment.environment.name', 'production')],
})
async function post(path: string, body: object) {
  const answer = await app.call(path, { method: 'POST', headers: { authorization: `Bearer ${app.token('telemetry')}` }, body })
  expect(answer.status).toBe(200)
}
const sendLogs = (service: string, logs: Log[]) =>
  post('/otlp/v1/logs', {
    resourceLogs: [
      {
        resource: from(service),
        scopeLogs: [
          {
            logRecords: logs.map(({ trace, span, atMs, words, severity = 9, error }) => ({
              ...(trace && { traceId: trace }),
              ...(span && { spanId: span }),
              timeUnixNano: nanos(atMs),
              severityNumber: error ? 17 : severity,
              body: { stringValue: words },
              attributes: error
                ? [
                    text('exception.type', error),
                    text('exception.message', words),
                    text('exception.stacktrace', `${error}: ${words}\n    at ${words.split(' ')[0]} (/srv/a.js:3:1)`),
                  ]
                : [],
            })),
          },
        ],
      },
    ],
  })
const sendSpans = (
  service: string,
  spans: { trace: string; id: string; parent?: string; name: string; fromMs: number; toMs: number; attributes?: object[] }[],
) =>
  post('/otlp/v1/traces', {
    resourceSpans: [
      {
        resource: from(service),
        scopeSpans: [
          {
            spans: spans.map(({ trace, id, parent, name, fromMs, toMs, attributes = [] }) => ({
              traceId: trace,
              spanId: id,
              ...(parent && { parentSpanId: parent }),
              name,
              startTimeUnixNano: nanos(fromMs),
              endTimeUnixNano: nanos(toMs),
              attributes,
            })),
          },
        ],
      },
    ],
  })
const trace = (at: number) => at.toString(16).padStart(32, '0')
const span = (at: number) => at.toString(16).padStart(16, '0')
const kept = () =>
  app.ctx.volume.prepare('SELECT trace_id AS traceId, kind, name FROM trail_record ORDER BY at_ms').all() as {
    traceId: string
    kind: string
    name: string
  }[]
async function trailOf(q: string) {
  let fault = ''
  await until('the fault', async () => {
    fault = (await ines(`/faults?q=${q}`)).body.rows[0]?.fault ?? ''
    return fault !== ''
  })
  const [{ occurrenceId }] = (await ines(`/faults/${fault}/occurrences`)).body.rows
  return { fault, occurrenceId, ...(await ines(`/faults/${fault}/occurrences/${occurrenceId}/trail`)).body }
}
const brief = (steps: { name: string; depth: number; stand: string }[]) => steps.map(({ name, depth, stand }) => [name, depth, stand])

describe('what happened around an error', () => {
  test('is kept from before it and after it, in one line of time; what never failed is not written', async () => {
    const now = app.clock.nowMs
    await sendLogs('kiln', [
      { trace: trace(1), span: span(10), atMs: now - 300, words: 'soak begins' },
      { trace: trace(2), atMs: now - 300, words: 'all is well' },
      { atMs: now - 300, words: 'no trace at all' },
    ])
    await sendLogs('kiln', [
      { trace: trace(1), span: span(11), atMs: now - 50, words: 'probe answers late, told by ada@emberwick.example', severity: 13 },
    ])
    expect(kept()).toEqual([])
    await sendLogs('kiln', [{ trace: trace(1), span: span(11), atMs: now, words: 'trailing probe', error: 'RangeError' }])
    await sendSpans('kiln', [
      {
        trace: trace(1),
        id: span(11),
        parent: span(10),
        name: 'read probe',
        fromMs: now - 100,
        toMs: now + 1,
        attributes: [text('rpc.method', 'readRegister')],
      },
      { trace: trace(1), id: span(10), name: 'control kiln', fromMs: now - 400, toMs: now + 3 },
      { trace: trace(2), id: span(20), name: 'control kiln', fromMs: now - 400, toMs: now + 3 },
    ])
    await sendLogs('kiln', [{ trace: trace(1), span: span(10), atMs: now + 2, words: 'kiln is switched off' }])
    const { steps, elsewhere } = await trailOf('trailing')
    expect(elsewhere).toBe(0)
    expect(brief(steps)).toEqual([
      ['control kiln', 0, 'during'],
      ['soak begins', 1, 'before'],
      ['read probe', 1, 'during'],
      ['probe answers late, told by [e-mail]', 2, 'before'],
      ['RangeError: trailing probe', 2, 'before'],
      ['kiln is switched off', 1, 'after'],
    ])
    expect(steps[2]).toMatchObject({ kind: 'span', service: 'kiln', detail: 'readRegister', atMs: now - 100, endMs: now + 1 })
    expect(kept().map(({ traceId }) => traceId)).not.toContain(trace(2))
  })

  test('sent twice it is kept once', async () => {
    const before = kept().length
    const now = app.clock.nowMs
    await sendLogs('kiln', [{ trace: trace(1), span: span(10), atMs: now - 300, words: 'soak begins' }])
    await sendSpans('kiln', [{ trace: trace(1), id: span(10), name: 'control kiln', fromMs: now - 400, toMs: now + 3 }])
    expect(kept()).toHaveLength(before)
  })

  test('is nothing where its sender told of no trace, or of nothing else in it', async () => {
    const now = app.clock.nowMs
    await sendLogs('kiln', [
      { atMs: now, words: 'lonely door', error: 'TypeError' },
      { trace: trace(3), atMs: now, words: 'silent lid', error: 'EvalError' },
    ])
    expect((await trailOf('lonely')).steps).toEqual([])
    expect((await trailOf('silent')).steps).toEqual([])
    expect(kept().filter(({ traceId }) => traceId === trace(3))).toEqual([])
  })

  test('in services of another project is counted and not told', async () => {
    const now = app.clock.nowMs
    app.ctx.journal.write((writer) => {
      const system = { actor: 'system', subjects: [] as string[] }
      writer.append({ ...system, kind: 'project-created', body: { prefix: 'VAULT', name: 'Vault', silenceMs: 1, requirementPrefixes: [] } })
      writer.append({ ...system, kind: 'service-added', body: { name: 'vault', project: 'VAULT', repository: 'vault', tagPrefix: 'v' } })
      writer.append({ ...system, kind: 'service-added', body: { name: 'planner', project: 'EMB', repository: 'planner', tagPrefix: 'v' } })
    })
    await sendSpans('vault', [{ trace: trace(4), id: span(40), name: 'count the takings', fromMs: now - 90, toMs: now - 10 }])
    await sendSpans('planner', [{ trace: trace(4), id: span(41), name: 'plan', fromMs: now - 95, toMs: now - 5 }])
    await sendLogs('kiln', [{ trace: trace(4), atMs: now, words: 'shared work', error: 'RangeError' }])
    const { steps, elsewhere, fault, occurrenceId } = await trailOf('shared')
    expect(brief(steps)).toEqual([
      ['plan', 0, 'before'],
      ['RangeError: shared work', 0, 'before'],
    ])
    expect(elsewhere).toBe(1)
    expect((await ines(`/faults/${fault}/occurrences/99999/trail`)).status).toBe(404)
    expect((await app.call(`/api/v1/faults/${fault}/occurrences/${occurrenceId}/trail`)).status).toBe(401)
  })

  test('becomes steps of the item that is begun from the fault', async () => {
    const { fault } = await trailOf('trailing')
    const { description } = (await ines(`/faults/${fault}/item-proposal`)).body
    expect(description).toContain('It fails in `control kiln`, in it `read probe readRegister`.')
    expect(description).toContain('Just before, kiln warns: `probe answers late, told by [e-mail]`.')
  })

  test('a trace that goes on for ever is kept to a limit, and goes when its time is over', async () => {
    const now = app.clock.nowMs
    const many = (from: number) =>
      Array.from({ length: 250 }, (_, at) => ({ trace: trace(5), atMs: now - 900 + from + at, words: `step ${from + at}` }))
    await sendLogs('kiln', many(0))
    await sendLogs('kiln', [{ trace: trace(5), atMs: now, words: 'endless loop', error: 'RangeError' }])
    await sendLogs('kiln', many(250))
    const { steps } = await trailOf('endless')
    // Sixty that were remembered, the newest, and what came until the limit.
    expect(steps).toHaveLength(300)
    expect(steps[0].name).toBe('step 190')
    await intakeWorker(app.ctx).call('prune', { beforeMs: app.clock.nowMs + 1, perGroupMax: 100 })
    expect(kept()).toEqual([])
  })
})

describe('a trail', () => {
  const place = { service: 'kiln', release: '1.0.0', environment: 'production' }
  const record = (at: number, given: object = {}) => ({
    resource: {},
    attributes: {},
    atMs: at,
    atNanos: nanos(at),
    severityNumber: 9,
    body: `step ${at}`,
    traceId: trace(1),
    isActivity: true,
    span: { kind: 'log' as const, id: null, parentId: null, endMs: null },
    ...given,
  })
  const at = (ms: number) => ({ atMs: ms, receivedAtMs: ms })
  const names = (keeper: TrailKeeper) => keeper.drain((words) => words).map(({ name }) => name)

  test('whose writing failed waits, and is written with the next error', () => {
    const keeper = new TrailKeeper()
    keeper.note(place, record(1), at(1))
    keeper.hit(place, record(2, { isActivity: false }), { name: 'RangeError', ...at(2) })
    expect(names(keeper)).toEqual(['step 1', 'RangeError'])
    keeper.discard()
    expect(names(keeper)).toEqual([])
    keeper.note(place, record(3), at(3))
    expect(names(keeper)).toEqual([])
    keeper.hit(place, record(2, { isActivity: false }), { name: 'RangeError', ...at(2) })
    expect(names(keeper)).toEqual(['step 1', 'RangeError', 'step 3', 'RangeError'])
    keeper.settle()
    keeper.note(place, record(4), at(4))
    expect(names(keeper)).toEqual(['step 4'])
  })

  test('of one moment and other words is another; words are scrubbed before they tell anything apart', () => {
    const keeper = new TrailKeeper()
    keeper.note(place, record(1, { body: 'lid of ada@emberwick.example' }), at(1))
    keeper.note(place, record(1, { body: 'door of ada@emberwick.example' }), at(1))
    keeper.hit(place, record(2, { isActivity: false }), { name: 'RangeError', ...at(2) })
    const marksBy = (scrub: (words: string) => string) => keeper.drain(scrub).map(({ mark }) => mark)
    expect(new Set(marksBy((words) => words)).size).toBe(3)
    expect(marksBy((words) => words).join()).not.toContain('@')
    // Nothing of a name is left in what is stored, not even as a hash: two names that are taken out are one.
    expect(new Set(marksBy(() => 'taken out')).size).toBe(2)
  })

  test('keeps the beginning of what is long, and no more', () => {
    const keeper = new TrailKeeper()
    const long = 'x'.repeat(100_000)
    keeper.note(place, record(1, { body: long, attributes: { 'url.path': long, 'http.route': '/firings' } }), at(1))
    keeper.hit(place, record(2, { isActivity: false }), { name: long, ...at(2) })
    const rows = keeper.drain((words) => words)
    expect(rows.map(({ name, detail }) => [name.length, detail.length])).toEqual([
      [300, 200],
      [300, 0],
    ])
  })

  test('is forgotten when thousands of others came since; then an error alone is not kept', () => {
    const keeper = new TrailKeeper()
    keeper.note(place, record(1), at(1))
    for (let other = 2; other < 5000; other++) keeper.note(place, record(1, { traceId: trace(other) }), at(1))
    keeper.hit(place, record(2, { isActivity: false }), { name: 'RangeError', ...at(2) })
    expect(names(keeper)).toEqual([])
  })
})
