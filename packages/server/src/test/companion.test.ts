import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFile } from 'node:child_process'
import { createHash, generateKeyPairSync } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { connectRepository, startApp, TestRepository, type App, type Ask } from './app-harness.js'

/** The companion as people get it: the file that the server hands out, run by Node.js in a checkout, against a server that runs. */
let app: App
let repo: TestRepository
let folder: string
let sha: string

interface Ran {
  code: number
  out: string
  err: string
}
function dys(args: string[], env: Record<string, string> = {}, input = ''): Promise<Ran> {
  return new Promise((resolve) => {
    const child = execFile(
      process.execPath,
      [join(folder, 'dys.mjs'), ...args],
      {
        cwd: repo.dir,
        env: { PATH: process.env.PATH ?? '', DYSTRACER_URL: app.url, DYSTRACER_TOKEN: app.token('evidence', { project: 'EMB' }), ...env },
      },
      (error, out, err) => resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
    )
    child.stdin?.end(input)
  })
}
const file = (name: string, text: string): string => {
  writeFileSync(join(folder, name), text)
  return join(folder, name)
}

beforeAll(async () => {
  app = await startApp()
  repo = new TestRepository()
  sha = repo.commit('src/probe.js', 'one\n', 'Begin')
  repo.git('remote', 'add', 'origin', 'https://git.example.org/emberwick/kiln.git')
  connectRepository(app, 'kiln', repo.dir)
  await app.server.sync.request('kiln', 'test')
  folder = mkdtempSync(join(tmpdir(), 'dystracer-companion-'))
  const served = await app.call('/dys.mjs')
  expect(served.headers.get('content-type')).toContain('javascript')
  file('dys.mjs', served.text)
})
afterAll(async () => {
  await app.stop()
  repo.remove()
  rmSync(folder, { recursive: true, force: true })
})

describe('dys report', () => {
  test('tells one build whole: begun, its reports, ended; git says repository, commit and branch', async () => {
    const junit = file(
      'report.xml',
      '<testsuite name="relay"><testcase name="opens"/><testcase name="SAF-3 holds"><failure message="no"/></testcase></testsuite>',
    )
    const lcov = file('lcov.info', 'SF:src/probe.js\nDA:1,4\nDA:2,0\nend_of_record\n')
    const ran = await dys(['report', junit, lcov, '--build', 'ci-1877', '--started', '--ended', 'broke'])
    expect(ran).toMatchObject({ code: 0, err: '' })
    expect(ran.out.trim().split('\n')).toEqual([
      'kiln/ci-1877 started.',
      `${junit}: 2 cases taken as junit.`,
      `${lcov}: 1 files taken as lcov.`,
      'kiln/ci-1877 ended: broke.',
    ])
    const rows = (await (await app.asks('ines'))('/builds')).body.rows
    expect(rows).toMatchObject([{ repository: 'kiln', name: 'ci-1877', sha, branch: 'main', state: 'broke', passed: 1, failed: 1 }])
  })

  test('says what of a wrong call is wrong, with exit code 2, and sends nothing', async () => {
    const count = () => app.ctx.db.prepare<[], { count: number }>('SELECT count(*) AS count FROM journal').get()?.count
    const before = count()
    const odd = file('odd.txt', 'nothing that anybody knows')
    const wrong: [string[], Record<string, string>, string][] = [
      [['report', odd, '--build', '1'], {}, 'cannot be told from how it begins; say --format'],
      [['report', odd, '--build', '1', '--format', 'pdf'], {}, '"pdf" is no format'],
      [['report', join(folder, 'gone.xml'), '--build', '1'], {}, 'gone.xml cannot be read'],
      [['report', '--build', '1'], {}, 'Name at least one report'],
      [['report', '--build', '1', '--ended', 'fine'], {}, '"passed" or "broke"'],
      [['report', odd], {}, '--build'],
      [['report', '--build', '1', '--started'], { DYSTRACER_TOKEN: '' }, 'Set DYSTRACER_TOKEN'],
      [['report', '--build', '1', '--started'], { DYSTRACER_URL: 'bugs' }, 'bugs is no address'],
    ]
    for (const [args, env, words] of wrong) {
      const ran = await dys(args, env)
      expect([ran.code, ran.err]).toEqual([2, expect.stringContaining(words)])
    }
    expect(count()).toBe(before)
  })

  test('passes on what the server refuses in its own words, with exit code 1', async () => {
    const broken = file('broken.xml', '<testsuite>\n<testcase name="a">\n</testsuite>')
    expect(await dys(['report', broken, '--build', '7'])).toMatchObject({
      code: 1,
      err: expect.stringMatching(/not read: .*\(line 3\). Nothing was stored/),
    })
    const stranger = await dys(['report', '--build', '7', '--started', '--repository', 'vault'])
    expect(stranger).toMatchObject({ code: 1, err: expect.stringContaining('project EMB, which has no repository vault') })
    const wrong = await dys(['report', '--build', '7', '--started'], { DYSTRACER_TOKEN: 'dys_nobody' })
    expect(wrong.code).toBe(1)
  })

  test('gives up with exit code 3 where no server answers', async () => {
    const ran = await dys(['report', '--build', '7', '--started'], { DYSTRACER_URL: 'http://127.0.0.1:9' })
    expect(ran).toMatchObject({ code: 3, err: expect.stringContaining('cannot be reached') })
  }, 60_000)
})

test('dys deployed makes a release run in an environment', async () => {
  repo.git('tag', 'v1.2.0')
  await app.server.sync.request('kiln', 'test')
  const ran = await dys(['deployed', 'kiln', '1.2.0', 'production'])
  expect(ran).toMatchObject({ code: 0, err: '', out: 'kiln 1.2.0 runs in production.\n' })
  const board = (await (await app.asks('ines'))('/releases')).body
  expect(board.services[0].releases).toContainEqual(expect.objectContaining({ release: '1.2.0', runsIn: ['production'] }))
  expect(await dys(['deployed', 'kiln', '1.2.0', 'moon'])).toMatchObject({ code: 1, err: expect.stringContaining('no environment moon') })
})

test('dys log logs an item, with what is piped in as its text', async () => {
  const env = { DYSTRACER_TOKEN: app.token('write', { project: 'EMB' }) }
  const ran = await dys(['log', 'Relay sticks', '--severity', '2', '--text', '-'], env, 'It sticks **hot**.')
  expect(ran).toMatchObject({ code: 0, err: '' })
  const [key, address] = ran.out.trim().split(' ')
  expect(address).toBe(`${app.url}/items/${key}`)
  expect((await (await app.asks('ines'))(`/items/${key}`)).body).toMatchObject({
    title: 'Relay sticks',
    severity: 2,
    description: 'It sticks **hot**.',
  })
  expect(await dys(['log', 'Odd', '--severity', 'high'], env)).toMatchObject({
    code: 2,
    err: expect.stringContaining('1 (the worst) to 5'),
  })
  expect(await dys(['log', 'Odd', '--type', 'nonsense'], env)).toMatchObject({ code: 1 })
})

test('dys log --from-last-error logs what a service sent last, once', async () => {
  const env = { DYSTRACER_TOKEN: app.token('write', { project: 'EMB' }) }
  expect(await dys(['log', '--from-last-error', 'night-job'], env)).toMatchObject({
    code: 1,
    err: expect.stringContaining('has sent no error'),
  })
  await app.call('/receive/errors', {
    method: 'POST',
    headers: { authorization: `Bearer ${app.token('telemetry')}` },
    body: { service: 'kiln', errors: [{ message: 'no disk left' }] },
  })
  const first = await dys(['log', '--from-last-error', 'kiln'], env)
  expect(first).toMatchObject({ code: 0, err: '' })
  expect(first.out).toMatch(/^EMB-\d+ http/)
  expect((await dys(['log', '--from-last-error', 'kiln'], env)).out).toBe(first.out)
  expect(await dys(['log'], env)).toMatchObject({ code: 2, err: expect.stringContaining('Say what it is about') })
})

describe('dys run', () => {
  const buildNamed = async (ask: Ask, name: string) => (await ask('/builds')).body.rows.find((row: { name: string }) => row.name === name)
  const script = (text: string) => [process.execPath, file('program.cjs', text)]

  test('passes on what a program prints, sends it as the log of its build, and ends as it does', async () => {
    const program = script("console.log('heating'); console.error('TypeError: no probe'); process.exitCode = 3")
    const ran = await dys(['run', '--build', 'run-1', '--', ...program])
    expect(ran).toMatchObject({ code: 3, out: expect.stringContaining('heating\n'), err: 'TypeError: no probe\n' })
    const ask = await app.asks('ines')
    const build = await buildNamed(ask, 'run-1')
    expect(build).toMatchObject({ state: 'broke', sha, branch: 'main' })
    const [log] = (await ask(`/builds/kiln/${build.number}/logs`)).body.rows
    expect(log).toMatchObject({ step: 'log', lines: 2, errors: 1, marks: [{ text: 'TypeError: no probe' }] })
  })

  test('tells a step of a build by its name, and each run of it is an attempt', async () => {
    await dys(['run', '--build', 'run-2', '--step', 'tests', '--', ...script("console.log('one'); process.exit(1)")])
    const again = await dys(['run', '--build', 'run-2', '--step', 'tests', '--', ...script("console.log('one'); console.log('two')")])
    expect(again.code).toBe(0)
    const ask = await app.asks('ines')
    const build = await buildNamed(ask, 'run-2')
    expect((await ask(`/builds/kiln/${build.number}`)).body.steps).toMatchObject([{ name: 'tests', outcome: 'passed' }])
    const logs = (await ask(`/builds/kiln/${build.number}/logs`)).body.rows
    expect(logs.map(({ step, attempt, lines }: { step: string; attempt: number; lines: number }) => [step, attempt, lines])).toEqual([
      ['tests', 1, 1],
      ['tests', 2, 2],
    ])
  })

  test('runs the program to its end where nothing can be sent, and says why', async () => {
    const ran = await dys(['run', '--build', '9', '--repository', 'vault', '--', ...script("console.log('done')")])
    expect(ran).toMatchObject({ code: 0, out: expect.stringMatching(/done[\s\S]*was not sent whole: .*no repository vault/) })
  })

  test('says that a program did not start', async () => {
    const ran = await dys(['run', '--build', 'run-3', '--', '/nowhere/kiln'])
    expect(ran).toMatchObject({ code: 127, err: expect.stringContaining('/nowhere/kiln did not start') })
  })
})

describe('dys verify', () => {
  const keep = (build: string, name: string, text: string) =>
    app.call(`/receive/build-files?${new URLSearchParams({ repository: 'kiln', commit: built, build, branch: 'main', name })}`, {
      method: 'POST',
      raw: text,
      headers: { authorization: `Bearer ${app.token('evidence')}`, 'content-type': 'application/octet-stream' },
    })
  const reader = () => ({ DYSTRACER_TOKEN: app.token('read') })
  let copy: string
  let built: string
  beforeAll(async () => {
    built = repo.commit('src/verify.js', 'two\n', 'What is built for the release')
    expect((await keep('ci-900', 'out/kiln.tgz', 'what was built')).status).toBe(200)
    app.ctx.journal.write((writer) => {
      writer.append({
        kind: 'release-found',
        actor: 'system',
        subjects: ['release:kiln@9.0.0'],
        body: { service: 'kiln', name: '9.0.0', tag: 'v9.0.0', sha: built, isRewritten: false },
      })
    })
    copy = file('downloaded.tgz', 'what was built')
  })

  test('says which build left a file, of which commit and release, whatever it is called now', async () => {
    const ran = await dys(['verify', copy], reader())
    expect(ran).toMatchObject({ code: 0, err: '' })
    expect(ran.out.trim()).toBe(`${copy}: out/kiln.tgz of build ci-900 of kiln, commit ${built.slice(0, 12)} of main; in kiln 9.0.0.`)
  })

  test('ends with 1 for a file that no build left, and for one that nobody can read says so', async () => {
    const strange = file('strange.tgz', 'what was built, and more')
    const ran = await dys(['verify', copy, strange], reader())
    expect(ran.code).toBe(1)
    expect(ran.out).toContain(`${strange}: no build that is known left it (SHA-256 `)
    expect(ran.err).toContain('1 of 2 cannot be traced to a build.')
    expect((await dys(['verify', 'nowhere.tgz'], reader())).code).toBe(2)
    expect((await dys(['verify', copy, '--key', 'key.pem'])).err).toContain('say both --provenance and --key')
  })

  test('needs no server where the signed statement was kept; a changed one or another key is refused', async () => {
    const ask = await app.asks('wren')
    const { number } = (await ask(`/build-files?sha256=${createHash('sha256').update('what was built').digest('hex')}`)).body.rows[0]
    const envelope = (await ask(`/builds/kiln/${number}/provenance`)).body
    const key = (await ask('/signing-key')).body
    expect(envelope.signatures[0].keyid).toBe(key.fingerprint)
    const [kept, pem] = [file('kiln.intoto.json', JSON.stringify(envelope)), file('key.pem', key.pem)]
    const away = { DYSTRACER_URL: '', DYSTRACER_TOKEN: '' }
    const ran = await dys(['verify', copy, '--provenance', kept, '--key', pem], away)
    expect([ran.code, ran.err]).toEqual([0, ''])
    expect(ran.out).toContain(`out/kiln.tgz of build ci-900 of kiln, commit ${built.slice(0, 12)} of main.`)
    const statement = JSON.parse(Buffer.from(envelope.payload, 'base64').toString())
    statement.subject[0].digest.sha256 = createHash('sha256').update('another').digest('hex')
    const changed = file(
      'changed.json',
      JSON.stringify({ ...envelope, payload: Buffer.from(JSON.stringify(statement)).toString('base64') }),
    )
    const forged = await dys(['verify', file('another.tgz', 'another'), '--provenance', changed, '--key', pem], away)
    expect([forged.code, forged.err]).toEqual([1, expect.stringContaining('is not signed by this key')])
    const other = generateKeyPairSync('ed25519').publicKey.export({ type: 'spki', format: 'pem' }) as string
    expect((await dys(['verify', copy, '--provenance', kept, '--key', file('other.pem', other)], away)).code).toBe(1)
    expect((await dys(['verify', copy, '--provenance', copy, '--key', pem], away)).err).toContain('is no signed statement of in-toto')
  })

  test('stands at the release, of one name the newest; not for whoever reads no project of it', async () => {
    await keep('ci-901', 'out/kiln.tgz', 'what was built again')
    const { rows } = (await (await app.asks('wren'))('/releases/kiln@9.0.0/files')).body
    expect(rows).toMatchObject([{ name: 'out/kiln.tgz', build: 'ci-901', releases: [{ service: 'kiln', name: '9.0.0', runsIn: [] }] }])
    app.ctx.journal.write((writer) => {
      const body = { prefix: 'OTH', name: 'Other', silenceMs: 1000, requirementPrefixes: [] }
      writer.append({ kind: 'project-created', actor: 'system', subjects: [], body })
    })
    const elsewhere = await dys(['verify', copy], { DYSTRACER_TOKEN: app.token('read', { project: 'OTH' }) })
    expect([elsewhere.code, elsewhere.out]).toEqual([1, expect.stringContaining('no build that is known left it')])
  })

  test('gives no statement of a build without files', async () => {
    expect((await (await app.asks('wren'))('/builds/kiln/4000/provenance')).status).toBe(404)
  })
})
