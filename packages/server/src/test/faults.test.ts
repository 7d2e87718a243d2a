import { intakeWorker } from '#subjects/occurrences/intake.client'
import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { verifyTables } from '#verify-tables'
import { exceptionRequest, startApp, until, type App, type Ask } from './app-harness.js'

let app: App
let ines: Ask
let rafe: Ask
let wren: Ask
const bearer = () => ({ authorization: `Bearer ${app.token('intake')}` })
const send = (input: Parameters<typeof exceptionRequest>[0]) =>
  app.call('/otlp/v1/logs', { method: 'POST', headers: bearer(), body: exceptionRequest(input) })
const post = (ask: Ask, path: string, body: object = {}) => ask(path, { method: 'POST', body })
const listed = async (query: string) =>
  (await ines(`/faults?${query}`)).body.rows as { fault: string; occurrences: number; releases: string[]; message: string; place: string }[]
const at = (line: number, name = 'heat') => `${name} (/srv/kiln/src/${name}.js:${line}:7)`

beforeAll(async () => {
  app = await startApp({ config: { keepPerMinute: 20 } })
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
  wren = await app.asks('wren')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
})

describe('a fault', () => {
  test('is followed through releases, its lines told by release, two lines of one release being two', async () => {
    await send({ service: 'oven', release: '1.0.0', atMs: app.clock.nowMs, type: 'RangeError', message: 'too hot: 1300', place: at(12) })
    await send({ service: 'oven', release: '1.1.0', atMs: app.clock.nowMs, type: 'RangeError', message: 'too hot: 1400', place: at(19) })
    await send({ service: 'oven', release: '1.1.0', atMs: app.clock.nowMs, type: 'RangeError', message: 'too cold', place: at(44) })
    await until('both are there', async () => (await listed('service=oven')).length === 2)
    const followed = (await listed('service=oven&release=1.0.0'))[0]
    expect(followed).toMatchObject({ occurrences: 2, releases: ['1.0.0', '1.1.0'] })
    const detail = (await ines(`/faults/${followed?.fault}`)).body
    expect(detail.sites).toEqual([
      { release: '1.0.0', line: 12 },
      { release: '1.1.0', line: 19 },
    ])
    expect(detail.reason).toMatchObject({ basis: 'app-frame', frame: 'heat@heat.js' })
    expect(detail.causes).toEqual([{ type: 'RangeError', message: 'too hot: 1300', frames: 3, isDecisive: true }])
  })

  test('whose line was guessed wrongly is put right when more of the release is known, occurrences and counts along with it', async () => {
    const now = app.clock.nowMs
    const tell = (release: string, line: number, turn: number) =>
      send({ service: 'sieve', release, atMs: now + turn, type: 'TypeError', message: 'gone', place: at(line, 'sift') })
    await tell('1', 10, 0)
    await tell('1', 20, 1)
    await until('they are two', async () => (await listed('service=sieve')).length === 2)
    const linesOf = async () =>
      Object.fromEntries(
        await Promise.all(
          (await listed('service=sieve')).map(async ({ fault }) => {
            const { sites, occurrences } = (await ines(`/faults/${fault}`)).body
            return [sites.map((site: { line: number }) => site.line).join(), occurrences]
          }),
        ),
      )
    await tell('2', 45, 2)
    await tell('2', 45, 3)
    await until('the lower is taken for the upper', async () => '10,45' in (await linesOf()))
    await tell('2', 35, 4)
    await until('it is put right', async () => '20,45' in (await linesOf()))
    await tell('2', 45, 5)
    await until('it stays', async () => JSON.stringify(await linesOf()) === JSON.stringify({ '20,45': 4, '10,35': 2 }))
  })

  test('that is another one’s goes into it, now and later; its number leads there, its items follow; parted again by a line', async () => {
    const [first] = await listed('service=oven&q=hot')
    const [second] = await listed('service=oven&q=cold')
    if (!first || !second) throw new Error('no faults')
    const key = (await post(rafe, '/items', { title: 'Oven too cold' })).body.key
    await post(rafe, `/items/${key}/links`, { kind: 'tied', to: { kind: 'fault', id: second.fault } })
    expect((await post(wren, `/faults/${second.fault}/merge`, { into: first.fault })).body.code).toBe('not-allowed')
    expect((await post(rafe, `/faults/${first.fault}/merge`, { into: first.fault })).body.code).toBe('conflict')
    expect((await post(rafe, `/faults/${second.fault}/merge`, { into: 'F-999' })).body.code).toBe('not-found')
    const merged = (await post(rafe, `/faults/${second.fault}/merge`, { into: first.fault })).body
    expect(merged).toMatchObject({ fault: first.fault, occurrences: 3, mergedFaults: [{ fault: second.fault, canTakeBack: true }] })
    expect((await ines(`/faults/${second.fault}`)).body.fault).toBe(first.fault)
    const sent = await send({
      service: 'oven',
      release: '1.1.0',
      atMs: app.clock.nowMs + 1,
      type: 'RangeError',
      message: 'too cold',
      place: at(44),
    })
    expect(sent.body).toEqual({})
    await until('it counts for the other', async () => (await listed('service=oven'))[0]?.occurrences === 4)
    const { rows } = (await ines(`/faults/${first.fault}/occurrences`)).body
    const cold = rows.find((row: { message: string }) => row.message === 'too cold')
    const belongs = (fault: string, occurrenceId: number, body: object) =>
      post(rafe, `/faults/${fault}/occurrences/${occurrenceId}/belongs`, body)
    expect((await belongs(first.fault, 99_999, { to: null })).body.code).toBe('not-found')
    expect((await belongs(first.fault, cold.occurrenceId, { to: first.fault })).body.code).toBe('conflict')
    const apart = (await belongs(first.fault, cold.occurrenceId, { to: null })).body
    expect(apart).toMatchObject({ occurrences: 2, sites: [{ release: '1.1.0', line: 44 }] })
    expect(apart.fault).not.toBe(first.fault)
    expect((await ines(`/faults/${first.fault}`)).body).toMatchObject({ occurrences: 2 })
    const only = (await ines(`/faults/${apart.fault}/occurrences`)).body.rows[0].occurrenceId
    expect((await belongs(apart.fault, only, { to: null })).body.code).toBe('conflict')
    await send({ service: 'oven', release: '1.1.0', atMs: app.clock.nowMs + 2, type: 'RangeError', message: 'too cold', place: at(44) })
    await until('what comes is the new one’s', async () => (await ines(`/faults/${apart.fault}`)).body.occurrences === 3)
  })

  test('resembles others of its service, with the stacks side by side', async () => {
    await send({
      service: 'oven',
      release: '1.1.0',
      atMs: app.clock.nowMs,
      type: 'RangeError',
      message: 'too hot: 7',
      place: `${at(3, 'cool')}\n    at ${at(12)}`,
    })
    await until('it is there', async () => (await listed('service=oven&q=cool')).length === 1)
    const [cool] = await listed('service=oven&q=cool')
    const { rows } = (await ines(`/faults/${cool?.fault}/alike`)).body
    expect(rows[0].message).toContain('too hot')
    expect(rows[0].pairs[0]).toMatchObject({ left: { function: 'cool' }, right: null })
    expect(rows[0].pairs[1]).toMatchObject({ left: { function: 'heat' }, right: { function: 'heat' } })
  })

  test('lists filter by service, environment, release, item and words, in four orders, page by page', async () => {
    await send({
      service: 'shelf',
      release: '2',
      environment: 'staging',
      atMs: app.clock.nowMs + 60_000,
      message: 'no shelf',
      place: at(1, 'shelve'),
      count: 5,
      person: 'one',
    })
    await until('it is there', async () => (await listed('service=shelf')).length === 1)
    expect((await listed('environment=staging')).map((row) => row.message)).toEqual(['no shelf'])
    // The number that the item is tied to went into the other fault.
    expect((await listed('item=some')).map((row) => row.message)).toEqual(['too hot: 1300'])
    expect((await listed('q=shelve%20shelf')).length).toBe(1)
    expect((await listed('q=nothing%20such')).length).toBe(0)
    expect((await listed('sort=times'))[0]?.message).toBe('no shelf')
    for (const sort of ['last', 'first', 'times', 'people']) {
      const whole = (await listed(`sort=${sort}`)).map((row) => row.fault)
      const paged: string[] = []
      let cursor = ''
      do {
        const page = (await ines(`/faults?sort=${sort}&limit=2${cursor && `&cursor=${cursor}`}`)).body
        paged.push(...page.rows.map((row: { fault: string }) => row.fault))
        cursor = page.nextCursor ?? ''
      } while (cursor)
      expect(paged).toEqual(whole)
    }
  })
})

describe('what people say of an example', () => {
  const counts = async (...faults: string[]) => Promise.all(faults.map(async (fault) => (await ines(`/faults/${fault}`)).body.occurrences))
  const cast = (line: number, atMs: number, release = '3.0.0') =>
    send({ service: 'cast', release, atMs, type: 'RangeError', message: `mould ${line}`, place: at(line, 'cast') })
  const byMessage = async (word: string) => {
    const [fault] = await listed(`service=cast&q=${encodeURIComponent(word)}`)
    if (!fault) throw new Error(`no fault says ${word}`)
    return fault.fault
  }
  const newest = async (fault: string) => (await ines(`/faults/${fault}/occurrences`)).body.rows[0].occurrenceId as number

  test('holds for what comes; what is there goes along only when asked for', async () => {
    const now = app.clock.nowMs
    for (const [turn, line] of [10, 10, 10, 70, 70].entries()) await cast(line, now + turn)
    await until('they are two', async () => (await listed('service=cast')).length === 2)
    const [ten, seventy] = [await byMessage('mould 10'), await byMessage('mould 70')]
    const one = await post(rafe, `/faults/${ten}/occurrences/${await newest(ten)}/belongs`, { to: seventy, includesEarlier: false })
    expect(one.body).toMatchObject({ fault: seventy, occurrences: 3 })
    expect(await counts(ten, seventy)).toEqual([2, 3])
    await cast(10, now + 10)
    await until('it goes there', async () => (await counts(seventy))[0] === 4)
    expect(await counts(ten)).toEqual([2])
    const all = await post(rafe, `/faults/${ten}/occurrences/${await newest(ten)}/belongs`, { to: seventy })
    expect(all.body).toMatchObject({ fault: seventy, occurrences: 6 })
    // All of it went: it is one with the other, by its number too.
    expect((await ines(`/faults/${ten}`)).body.fault).toBe(seventy)
  })

  test('a merge is taken back: its own, what came since, its items, and exact counts, of bursts and removed ones too', async () => {
    const now = app.clock.nowMs + 1000
    for (const line of [20, 30])
      await send({ service: 'kiln', release: '1', atMs: now, message: `glue ${line}`, place: at(line, 'glue'), count: 30 })
    await until('they are two', async () => (await listed('service=kiln')).length === 2)
    const [a, b] = [(await listed('service=kiln&q=glue%2020'))[0]?.fault ?? '', (await listed('service=kiln&q=glue%2030'))[0]?.fault ?? '']
    const itemOf = async (fault: string) => (await ines(`/faults/${fault}`)).body.item?.key
    const logged = await Promise.all([a, b].map(itemOf))
    expect(logged.every((key) => /^EMB-/.test(key)) && logged[0] !== logged[1]).toBe(true)
    expect((await post(rafe, `/faults/${a}/merge`, { into: b })).body).toMatchObject({ occurrences: 60, leftOut: 20 })
    app.clock.nowMs += 61_000
    await send({ service: 'kiln', release: '1', atMs: now + 100, message: 'glue 20', place: at(20, 'glue'), person: 'late' })
    await until('it counts for the other', async () => (await counts(b))[0] === 61)
    await intakeWorker(app.ctx).call('prune', { beforeMs: 0, perGroupMax: 25 })
    const back = await rafe(`/faults/${a}/merge`, { method: 'DELETE' })
    expect(back.body).toMatchObject({ fault: a, occurrences: 31, leftOut: 10, mergedFaults: [] })
    expect(await counts(a, b)).toEqual([31, 30])
    expect((await ines(`/faults/${b}`)).body.mergedFaults).toEqual([])
    expect(await Promise.all([a, b].map(itemOf))).toEqual(logged)
    const sum = async (fault: string) =>
      (await ines(`/faults/${fault}`)).body.byMinute.reduce((total: number, minute: { count: number }) => total + minute.count, 0)
    expect([await sum(a), await sum(b)]).toEqual([31, 30])
    await send({ service: 'kiln', release: '1', atMs: now + 200, message: 'glue 20', place: at(20, 'glue'), person: 'later' })
    await until('what comes is its own again', async () => (await counts(a))[0] === 32)
    expect((await rafe(`/faults/${a}/merge`, { method: 'DELETE' })).body.code).toBe('conflict')
  })

  test('of merges in a row the outer one is taken back first', async () => {
    const now = app.clock.nowMs + 2000
    for (const line of [40, 50, 60])
      await send({ service: 'chain', release: '1', atMs: now, message: `chain ${line}`, place: at(line, 'chain') })
    await until('they are three', async () => (await listed('service=chain')).length === 3)
    const [a = '', b = '', c = ''] = await Promise.all(
      [40, 50, 60].map(async (line) => (await listed(`service=chain&q=${line}`))[0]?.fault),
    )
    await post(rafe, `/faults/${a}/merge`, { into: b })
    await post(rafe, `/faults/${b}/merge`, { into: c })
    expect((await rafe(`/faults/${a}/merge`, { method: 'DELETE' })).body).toMatchObject({
      code: 'conflict',
      detail: expect.stringContaining(`Take ${b} back first`),
    })
    expect((await rafe(`/faults/${b}/merge`, { method: 'DELETE' })).body).toMatchObject({
      fault: b,
      occurrences: 2,
      mergedFaults: [{ fault: a, canTakeBack: true }],
    })
    expect((await ines(`/faults/${a}`)).body.fault).toBe(b)
    expect((await rafe(`/faults/${a}/merge`, { method: 'DELETE' })).body).toMatchObject({ fault: a, occurrences: 1 })
    expect(await counts(a, b, c)).toEqual([1, 1, 1])
  })

  test('one occurrence is shown with all that was received, its exceptions as they are read and its neighbours', async () => {
    const [fault = ''] = (await listed('service=kiln&q=glue')).map((row) => row.fault)
    const { rows } = (await ines(`/faults/${fault}/occurrences?limit=3`)).body
    const one = (await ines(`/faults/${fault}/occurrences/${rows[1].occurrenceId}`)).body
    expect(one).toMatchObject({
      fault,
      newerId: rows[0].occurrenceId,
      olderId: rows[2].occurrenceId,
      attributes: rows[1].attributes,
      stacktrace: rows[1].stacktrace,
    })
    expect(one.exceptions).toHaveLength(1)
    expect(one.exceptions[0].frames.map((frame: { function: string; isApp: boolean }) => [frame.function, frame.isApp])).toEqual([
      ['glue', true],
      ['main', true],
      [null, false],
    ])
    expect((await ines(`/faults/${fault}/occurrences/99999`)).status).toBe(404)
    expect((await ines(`/faults/${fault}/occurrences/x`)).status).toBe(404)
  })
})

describe('a burst', () => {
  test('beyond the set rate is counted exactly and not kept, a retry not counted again', async () => {
    const burst = { service: 'storm', release: '1', atMs: app.clock.nowMs, message: 'again', place: at(5, 'storm'), count: 50 }
    await send(burst)
    await send(burst)
    await until('it is there', async () => (await listed('service=storm')).length === 1)
    const [storm] = await listed('service=storm')
    expect(storm?.occurrences).toBe(50)
    expect((await ines(`/faults/${storm?.fault}`)).body.leftOut).toBe(30)
    expect((await ines(`/faults/${storm?.fault}/occurrences?limit=100`)).body.rows).toHaveLength(20)
  })

  test('is removed by age and by number later on; counts and charts stay', async () => {
    const [storm] = await listed('service=storm')
    expect(await intakeWorker(app.ctx).call('prune', { beforeMs: 0, perGroupMax: 12 })).toBeGreaterThanOrEqual(8)
    expect((await ines(`/faults/${storm?.fault}/occurrences?limit=100`)).body.rows).toHaveLength(12)
    expect(await intakeWorker(app.ctx).call('prune', { beforeMs: app.clock.nowMs + 1, perGroupMax: 12 })).toBeGreaterThan(12)
    expect((await ines(`/faults/${storm?.fault}`)).body).toMatchObject({ occurrences: 50 })
    expect(
      (await ines(`/faults/${storm?.fault}`)).body.byMinute.reduce((sum: number, minute: { count: number }) => sum + minute.count, 0),
    ).toBe(50)
  })

  test('leaves no trace behind that no occurrence has; those in use, and those that come meanwhile, stay', async () => {
    const traces = () => app.ctx.volume.prepare<[], { count: number }>('SELECT count(*) AS count FROM trace').get()?.count ?? 0
    const gone = { service: 'storm', release: '9', atMs: app.clock.nowMs, message: 'once', place: at(99, 'gone') }
    await send(gone)
    await until('it is there', async () => (await listed('service=storm&release=9')).length === 1)
    await intakeWorker(app.ctx).call('prune', { beforeMs: app.clock.nowMs + 1, perGroupMax: 100 })
    const before = traces()
    await send({ ...gone, place: at(100, 'stays'), message: 'in use' })
    while (!(await intakeWorker(app.ctx).call('sweep', {})));
    expect(traces()).toBeLessThan(before)
    await until('it is there', async () => (await listed('service=storm&q=stays')).length === 1)
    const [stays] = await listed('service=storm&q=stays')
    expect((await ines(`/faults/${stays?.fault}/occurrences`)).body.rows[0].stacktrace).toContain('stays.js:100')
    // The same trace again, after its text had gone.
    await send({ ...gone, atMs: app.clock.nowMs + 3 })
    const [again] = await listed('service=storm&release=9&q=gone')
    await until('it is there again', async () => (await ines(`/faults/${again?.fault}/occurrences`)).body.rows.length === 1)
  })

  test('keeps no personal data: addresses, tokens and card numbers are taken out, people are still counted', async () => {
    for (const [turn, person] of ['odile@emberwick.example', 'rafe@emberwick.example', 'odile@emberwick.example'].entries())
      await send({
        service: 'till',
        release: '1',
        atMs: app.clock.nowMs + turn,
        message: `card 4111 1111 1111 1111 of ${person} refused, token=abc123secret`,
        place: at(5, 'pay'),
        person,
      })
    await until('it is there', async () => (await listed('service=till'))[0]?.occurrences === 3)
    const [till] = await listed('service=till')
    const answer = await ines(`/faults/${till?.fault}/occurrences`)
    expect(answer.text).not.toMatch(/4111|odile@|abc123secret/)
    expect(answer.body.rows[0].message).toBe('card [card number] of [e-mail] refused, token=[removed]')
    expect((await ines(`/faults/${till?.fault}`)).body.peopleHit).toBe(2)
  })
})

describe('a source map', () => {
  // `function heat(t){if(t>1300)throw new RangeError("too hot")}` in one line, from three.
  const map = (file: string) =>
    JSON.stringify({
      version: 3,
      file,
      sources: ['../src/heat.ts'],
      sourcesContent: ['export function heat(degrees: number) {\n  if (degrees > 1300) {\n    throw new RangeError("too hot")\n  }\n}\n'],
      names: [],
      mappings: 'AAAO,sBACD,YACJ',
    })
  const upload = (raw: string | Buffer, query: string, headers: Record<string, string> = {}) =>
    app.call(`/receive/sourcemaps?${query}`, {
      method: 'POST',
      raw,
      headers: { ...bearer(), 'content-type': 'application/json', ...headers },
    })
  const built = (release: string, name: string) => ({
    service: 'web',
    release,
    atMs: app.clock.nowMs,
    type: 'RangeError',
    message: 'too hot',
    place: `h (https://studio.emberwick.example/assets/main-${name}.js:1:500)`,
  })

  test('leads back to the source; faults that came before their map become one', async () => {
    await send(built('1.0.0', 'AB12CD34'))
    await send({ ...built('2.0.0', 'EF56AB78'), place: 'q (https://studio.emberwick.example/assets/main-EF56AB78.js:1:900)' })
    await until('they are two', async () => (await listed('service=web')).length === 2)
    expect((await upload('nonsense', 'repository=web&release=1.0.0&file=main-AB12CD34.js')).body.code).toBe('malformed-body')
    expect((await upload(map('main-AB12CD34.js'), 'repository=web&release=1.0.0&file=main-AB12CD34.js')).body).toEqual({
      maps: 1,
      merged: 0,
    })
    const second = await upload(gzipSync(map('main-EF56AB78.js')), 'repository=web&release=web@2.0.0&file=assets/main-EF56AB78.js.map', {
      'content-encoding': 'gzip',
    })
    expect(second.body).toEqual({ maps: 1, merged: 1 })
    await until('they are one', async () => (await listed('service=web')).length === 1)
    const [one] = await listed('service=web')
    expect(one).toMatchObject({ occurrences: 2, releases: ['1.0.0', '2.0.0'] })
    expect((await ines(`/faults/${one?.fault}`)).body.reason.frame).toBe('heat@heat.ts')
    await send({ ...built('2.0.0', 'EF56AB78'), atMs: app.clock.nowMs + 5 })
    await until('what comes later joins', async () => (await listed('service=web'))[0]?.occurrences === 3)
  })
})

describe('connecting', () => {
  test('a service is mapped to a repository; a test event shows that the way is open and counts for no release', async () => {
    await app.ctx.journal.write((writer) => {
      writer.append({
        kind: 'repository-added',
        actor: 'system',
        subjects: [],
        body: { name: 'glaze', url: 'http://127.0.0.1:9/glaze.git', mainBranch: 'main' },
      })
    })
    expect((await post(rafe, '/projects/EMB/services', { service: 'glaze', repository: 'glaze' })).body.code).toBe('not-allowed')
    expect((await post(ines, '/projects/EMB/services', { service: 'glaze', repository: 'nowhere' })).body.code).toBe('invalid-input')
    expect((await post(ines, '/projects/EMB/services', { service: 'glaze', repository: 'glaze' })).status).toBe(200)
    expect((await post(ines, '/projects/EMB/services', { service: 'glaze', repository: 'glaze' })).body.code).toBe('conflict')
    expect((await post(rafe, '/services/glaze/test-event')).status).toBe(200)
    await until(
      'it was heard',
      async () => (await ines('/services')).body.rows.find((row: { service: string }) => row.service === 'glaze').lastHeardAtMs !== null,
    )
    await until('it is listed', async () => (await listed('service=glaze')).length === 1)
    const [fault] = await listed('service=glaze')
    expect(fault).toMatchObject({ releases: [], message: 'This is a test event for glaze; nothing is broken' })
    const unmapped = (await ines('/services')).body.rows.find((row: { service: string }) => row.service === 'storm')
    expect(unmapped).toMatchObject({ repository: null, project: null })
  })
})
