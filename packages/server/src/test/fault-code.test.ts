import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { zipSync } from 'fflate'
import { pack } from 'tar-stream'
import { verifyTables } from '#verify-tables'
import { connectRepository, exceptionRequest, startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

let app: App
let repo: TestRepository
let ines: Ask
let rafe: Ask
const bearer = () => ({ authorization: `Bearer ${app.token('intake')}` })
const send = (input: Parameters<typeof exceptionRequest>[0]) =>
  app.call('/otlp/v1/logs', { method: 'POST', headers: bearer(), body: exceptionRequest(input) })
interface Row {
  fault: string
  occurrences: number
  message: string
  place: string
}
const listed = async (query: string) => (await ines(`/faults?${query}`)).body.rows as Row[]
const places = async (query: string) => (await listed(query)).map((row) => row.place).sort()
const patch = (ask: Ask, service: string, body: object) => ask(`/services/${service}`, { method: 'PATCH', body })

/** `function heat(t){…}` in one built line, from three source lines. */
const mapOf = (source: string, content: string | null) =>
  JSON.stringify({
    version: 3,
    sources: [source],
    ...(content !== null && { sourcesContent: [content] }),
    names: [],
    mappings: 'AAAO,sBACD,YACJ',
  })
const HEAT = 'export function heat(degrees: number) {\n  if (degrees > 1300) {\n    throw new RangeError("too hot")\n  }\n}\n'

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.commit('src/heat.ts', HEAT, 'Heat')
  repo.commit('node_modules/@emberwick/base/fill.js', 'x\n', 'Our own package, kept along')
  repo.commit('dist/main.js', 'x\n', 'Built')
  repo.commit('dist/main.js.map', mapOf('../src/heat.ts', null), 'Its map')
  repo.commit(
    'public/page.js',
    `x\n//# sourceMappingURL=data:application/json;base64,${Buffer.from(mapOf('../src/heat.ts', HEAT)).toString('base64')}\n`,
    'A page',
  )
  repo.commit('dist/broken.js.map', 'no map at all', 'Broken')
  connectRepository(app, 'kiln', repo.dir)
  ines = await app.asks('ines')
  rafe = await app.asks('rafe')
})
afterAll(async () => {
  expect(verifyTables({ db: app.ctx.db, dataDir: app.dataDir })).toEqual([])
  await app.stop()
  repo.remove()
})

describe('what the repository tells', () => {
  test('a frame whose file is tracked is ours; what came before the tag was known is found anew, apart or together', async () => {
    const now = app.clock.nowMs
    const place = (caller: number) => `log (/opt/shared/log.js:4:1)\n    at fire (/srv/kiln/src/probe.js:${caller}:7)`
    await send({ release: '7.0.0', atMs: now, message: 'no flame', place: place(10) })
    await send({ release: '7.0.0', atMs: now + 1, message: 'no flame', place: place(20) })
    await send({
      release: '7.0.0',
      atMs: now + 2,
      message: 'need a kiln',
      place: 'fill (/srv/kiln/node_modules/@emberwick/base/fill.js:2:1)',
    })
    await until(
      'they are there',
      async () => (await listed('service=kiln&release=7.0.0')).reduce((sum, row) => sum + row.occurrences, 0) === 3,
    )
    // The logger of another program stands in an own-looking folder: both are its fault, as far as is known.
    expect(await places('service=kiln&release=7.0.0')).toEqual(['log@log.js', 'main@src/main.js'])
    repo.git('tag', 'v7.0.0')
    await app.server.sync.request('kiln', 'test')
    await until('they are told apart', async () => (await listed('service=kiln&release=7.0.0')).length === 3)
    expect(await places('service=kiln&release=7.0.0')).toEqual(['fill@fill.js', 'fire@probe.js', 'fire@probe.js'])
    await send({ release: '7.0.0', atMs: now + 3, message: 'no flame', place: place(20) })
    await until('what comes joins', async () => (await listed('service=kiln&release=7.0.0')).some((row) => row.occurrences === 2))
    const [twice] = (await listed('service=kiln&release=7.0.0')).filter((row) => row.occurrences === 2)
    const { frames } = (await ines(`/faults/${twice?.fault}/frames`)).body
    expect(frames.map((frame: { isApp: boolean; path: string | null }) => [frame.isApp, frame.path]).slice(0, 2)).toEqual([
      [false, null],
      [true, 'src/probe.js'],
    ])
  })

  test('source maps are found beside the built file and in it; sources not in a map are read from git; no map is passed over', async () => {
    const now = app.clock.nowMs + 1000
    const built = (file: string) => `h (https://kiln.emberwick.example/${file}:1:500)`
    await send({ release: '7.0.0', atMs: now, type: 'RangeError', message: 'too hot', place: built('dist/main.js') })
    await send({ release: '7.0.0', atMs: now + 1, type: 'RangeError', message: 'too hot', place: built('public/page.js') })
    await send({ release: '7.0.0', atMs: now + 2, type: 'SyntaxError', message: 'broken', place: built('dist/broken.js') })
    await until('they are one', async () => (await listed('service=kiln&q=heat'))[0]?.occurrences === 2)
    const [heat] = await listed('service=kiln&q=heat')
    expect(heat?.place).toBe('heat@heat.ts')
    const { frames } = (await ines(`/faults/${heat?.fault}/frames`)).body
    expect(frames[0]).toMatchObject({ function: 'heat', path: 'src/heat.ts', line: 3 })
    expect(frames[0].source.map((row: { text: string }) => row.text.trim())).toContain('throw new RangeError("too hot")')
    const { rows } = (await ines(`/faults/${heat?.fault}/occurrences`)).body
    const one = (await ines(`/faults/${heat?.fault}/occurrences/${rows[0].occurrenceId}`)).body
    expect(one.exceptions[0].frames[0]).toMatchObject({ file: 'src/heat.ts', built: expect.stringContaining('page.js:1:500') })
    await until('what has no map is there, too', async () => (await listed('service=kiln&q=broken')).length === 1)
    expect(await places('service=kiln&q=broken')).toEqual(['h@broken.js'])
  })
})

describe('what people say of the code', () => {
  test('holds for what comes, and on request for what is there; only leads say it', async () => {
    const now = app.clock.nowMs + 2000
    const place = (caller: string) => `turn (/srv/wheel/src/clay/turn.js:4:1)\n    at ${caller} (/srv/wheel/src/${caller}.js:9:7)`
    await ines('/projects/EMB/services', { method: 'POST', body: { service: 'wheel', repository: 'kiln', pathPrefix: 'services/wheel/' } })
    for (const [turn, caller] of ['throwBowl', 'throwVase'].entries())
      await send({ service: 'wheel', atMs: now + turn, message: 'wobbles', place: place(caller) })
    await until('they are one', async () => (await listed('service=wheel'))[0]?.occurrences === 2)
    expect((await patch(rafe, 'wheel', { foreignCode: ['src/clay'] })).body.code).toBe('not-allowed')
    expect((await patch(ines, 'wheel', { foreignCode: ['*.*.*'] })).status).toBe(422)
    expect((await patch(ines, 'nothing', { foreignCode: ['src/clay'] })).status).toBe(404)
    expect((await patch(ines, 'wheel', { foreignCode: ['src/clay'] })).body).toEqual({ merged: 0, made: 0 })
    await send({ service: 'wheel', atMs: now + 5, message: 'wobbles', place: place('throwVase') })
    await until('it is another', async () => (await listed('service=wheel')).length === 2)
    expect(await places('service=wheel')).toEqual(['throwVase@throwVase.js', 'turn@turn.js'])
    expect((await patch(ines, 'wheel', { includesEarlier: true })).body).toMatchObject({ made: expect.any(Number) })
    await until('the past follows', async () => (await places('service=wheel')).join() === 'throwBowl@throwBowl.js,throwVase@throwVase.js')
    expect((await listed('service=wheel')).map((row) => row.occurrences).sort()).toEqual([1, 2])
    const wheel = (await ines('/services')).body.rows.find((row: { service: string }) => row.service === 'wheel')
    expect(wheel).toMatchObject({ pathPrefix: 'services/wheel', foreignCode: ['src/clay'], ownCode: [] })
    // And back: what was one of the two goes with the other again.
    await patch(ines, 'wheel', { foreignCode: [], includesEarlier: true })
    await until('they are one again', async () => (await listed('service=wheel'))[0]?.occurrences === 3)
    expect(await places('service=wheel')).toEqual(['turn@turn.js'])
  })

  test('a fault that people had a say in is not found anew', async () => {
    const now = app.clock.nowMs + 3000
    for (const [turn, name] of ['crack', 'chip'].entries())
      await send({ service: 'slab', atMs: now + turn, message: 'gone', place: `${name} (/srv/slab/${name}.js:3:1)` })
    await until('they are two', async () => (await listed('service=slab')).length === 2)
    const [a, b] = await listed('service=slab')
    await rafe(`/faults/${a?.fault}/merge`, { method: 'POST', body: { into: b?.fault } })
    await ines('/projects/EMB/services', { method: 'POST', body: { service: 'slab', repository: 'kiln' } })
    expect((await patch(ines, 'slab', { includesEarlier: true })).body).toEqual({ merged: 0, made: 0 })
    expect((await listed('service=slab')).map((row) => row.occurrences)).toEqual([2])
  })
})

describe('an artefact of a build', () => {
  const upload = (raw: Uint8Array, file: string) =>
    app.call(`/receive/sourcemaps?repository=studio&release=4.1.0&file=${file}`, { method: 'POST', raw, headers: bearer() })
  const tarOf = async (files: Record<string, string>): Promise<Buffer> => {
    const archive = pack()
    for (const [name, content] of Object.entries(files)) archive.entry({ name }, content)
    archive.finalize()
    const chunks: Buffer[] = []
    for await (const chunk of archive) chunks.push(chunk as Buffer)
    return Buffer.concat(chunks)
  }
  const files = {
    'package/dist/app.js': 'x',
    'package/dist/app.js.map': mapOf('../src/heat.ts', HEAT),
    '../../escape.js.map': mapOf('../src/heat.ts', HEAT),
  }

  test('holds the maps of its files: tar, gzipped tar, zip', async () => {
    const tar = await tarOf(files)
    for (const [raw, name] of [
      [tar, 'build.tar'],
      [gzipSync(tar), 'build.tgz'],
      [zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, Buffer.from(text)]))), 'build.zip'],
    ] as const)
      expect((await upload(raw, name)).body).toEqual({ maps: 2, merged: 0 })
    await send({
      service: 'studio',
      release: '4.1.0',
      atMs: app.clock.nowMs,
      type: 'RangeError',
      message: 'hot',
      place: 'q (https://x.example/app.js:1:500)',
    })
    await until('it is led back', async () => (await places('service=studio')).join() === 'heat@heat.ts')
  })

  test('that is broken, cut or inflates without end is refused with what to do', async () => {
    const tar = await tarOf(files)
    expect((await upload(gzipSync(tar).subarray(0, 60), 'build.tgz')).body.code).toBe('malformed-body')
    expect((await upload(Buffer.from([0x50, 0x4b, 3, 4, 9, 9, 9]), 'build.zip')).body.code).toBe('malformed-body')
    expect((await upload(gzipSync(Buffer.alloc(600 << 20), { level: 1 }), 'bomb.tgz')).body.code).toBe('too-large')
    expect((await upload(await tarOf({ 'a.js.map': 'no map' }), 'build.tar')).body.code).toBe('malformed-body')
  })
})

describe('what is to be taken out', () => {
  test('more than what always is: by a pattern on a linear engine, and attributes by their name', async () => {
    const add = (body: object, ask = ines) => ask('/scrub-rules', { method: 'POST', body })
    expect((await add({ kind: 'text', pattern: 'MEM-\\d+', name: 'member' }, rafe)).body.code).toBe('not-allowed')
    expect((await add({ kind: 'text', pattern: '(MEM', name: 'member' })).body.fields.pattern).toContain('Not a pattern')
    expect((await add({ kind: 'text', pattern: 'x*', name: 'member' })).body.fields.pattern).toContain('empty text')
    expect((await add({ kind: 'text', pattern: 'MEM-\\d+', name: 'member' })).body.rows).toHaveLength(1)
    // Without end on an engine that goes back and forth.
    await add({ kind: 'text', pattern: '(a+)+$', name: 'as' })
    const rules = (await add({ kind: 'attribute', pattern: 'User.ID', name: 'member' })).body.rows as { ruleId: string }[]
    const tried = await ines('/scrub-rules/try', { method: 'POST', body: { text: 'MEM-77 of odile@emberwick.example' } })
    expect(tried.body.text).toBe('[member] of [e-mail]')
    await send({
      service: 'club',
      atMs: app.clock.nowMs,
      message: `MEM-12 ${'a'.repeat(3000)}!`,
      place: 'join (/srv/club/join.js:3:1)',
      person: 'odile',
    })
    await until('it is there', async () => (await listed('service=club')).length === 1)
    const [club] = await listed('service=club')
    const answer = await ines(`/faults/${club?.fault}/occurrences`)
    expect(answer.text).not.toContain('MEM-12')
    expect(answer.body.rows[0].attributes['user.id']).toBe('[removed]')
    expect((await ines(`/scrub-rules/${rules[0]?.ruleId}`, { method: 'DELETE' })).body.rows).toHaveLength(2)
    expect((await ines(`/scrub-rules/${rules[0]?.ruleId}`, { method: 'DELETE' })).status).toBe(404)
  })
})
