import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { createServer as createTcpServer, type AddressInfo } from 'node:net'
import { tmpdir, userInfo } from 'node:os'
import { join } from 'node:path'
import { startApp, TestRepository, until, type App, type Ask } from './app-harness.js'

/** Repositories that not everybody may read: behind a login over HTTP, and over ssh with a key that the server makes. */
let app: App
let teo: Ask
let ines: Ask
let repo: TestRepository
let bare: string
let folder: string

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'dystracer-access-'))
  repo = new TestRepository()
  repo.commit('src/lid.js', 'one\n', 'Begin\n\nRefs: EMB-1')
  bare = join(folder, 'lid.git')
  execFileSync('git', ['clone', '--quiet', '--bare', repo.dir, bare])
  execFileSync('git', ['update-server-info'], { cwd: bare })
  app = await startApp({ config: { allowedHosts: ['127.0.0.1'] } })
  teo = await app.asks('teo')
  ines = await app.asks('ines')
})
afterAll(async () => {
  await app.stop()
  repo.remove()
  rmSync(folder, { recursive: true, force: true })
})

const connect = (body: object, project = 'EMB') => teo(`/projects/${project}/repositories`, { method: 'POST', body })
const repositories = async () => (await ines('/repositories')).body.rows
const readOf = async (name: string) => (await repositories()).find((row: { repository: string }) => row.repository === name)
/** Everything that lies in the data folder or stands in an answer, to look for what must not be there. */
const everythingKept = () =>
  readdirSync(app.dataDir, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => readFileSync(join(entry.parentPath, entry.name), 'latin1'))
    .join('\n')

describe('behind a login', () => {
  const SECRET = 'clay-and-fire-1040'
  let host: Server
  let address: string
  const asked: string[] = []

  beforeAll(async () => {
    // Git's plain HTTP protocol needs no program: the files of a bare repository, behind basic authentication.
    host = createServer((request, response) => {
      asked.push(request.headers.authorization ?? '')
      if (request.headers.authorization !== `Basic ${Buffer.from(`kiln-bot:${SECRET}`).toString('base64')}`) {
        response.writeHead(401, { 'www-authenticate': 'Basic realm="git"' }).end()
        return
      }
      const path = join(folder, decodeURIComponent(new URL(request.url ?? '/', 'http://host').pathname))
      if (!path.startsWith(bare) || !existsSync(path)) response.writeHead(404).end()
      else response.end(readFileSync(path))
    })
    await new Promise<void>((resolve) => host.listen(0, '127.0.0.1', resolve))
    address = `http://127.0.0.1:${(host.address() as AddressInfo).port}/lid.git`
  })
  afterAll(() => void host.close())

  test('a wrong or missing secret is told before anything is written', async () => {
    for (const access of [{ kind: 'none' }, { kind: 'login', userName: 'kiln-bot', secret: 'wrong' }]) {
      const answer = await connect({ url: address, access })
      expect(answer.status).toBe(502)
      expect(answer.text).not.toContain('wrong')
    }
    expect(await readOf('lid')).toBeUndefined()
    const inAddress = await connect({ url: address.replace('http://', 'http://kiln-bot:x@') })
    expect(inAddress.body.fields.url).toContain('Leave the name and password out')
  })

  test('the right one reads it; the secret stands in no answer, no journal, no file, no log', async () => {
    const answer = await connect({ url: address, access: { kind: 'login', userName: 'kiln-bot', secret: SECRET } })
    expect(answer).toMatchObject({ status: 201, body: { repository: 'lid', service: 'lid', mainBranch: 'main' } })
    await until('its history was read', async () => (await readOf('lid'))?.commits === 1)
    expect((await readOf('lid')).access).toEqual({ kind: 'login', userName: 'kiln-bot' })
    const said = JSON.stringify([(await ines('/repositories')).body, (await teo('/audit')).body, app.log])
    expect(`${said}${everythingKept()}`).not.toContain(SECRET)
    expect(everythingKept()).not.toContain(Buffer.from(`kiln-bot:${SECRET}`).toString('base64'))
    expect((await teo('/audit')).body.rows[0]).toMatchObject({ kind: 'repository-access-given', about: 'lid', facts: { by: 'login' } })
    expect(readFileSync(join(app.dataDir, 'sealing.key'), 'utf8')).toHaveLength(43)
  })

  test('another secret is given later; one that is refused changes nothing', async () => {
    const change = (access: object) => teo('/repositories/lid', { method: 'PATCH', body: { access } })
    expect((await change({ kind: 'login', userName: 'kiln-bot', secret: 'old' })).status).toBe(502)
    await app.server.sync.request('lid', 'test')
    expect((await readOf('lid')).trouble).toBeNull()
    expect((await change({ kind: 'login', userName: 'kiln-bot', secret: SECRET })).status).toBe(200)
    expect((await ines('/repositories/lid', { method: 'PATCH', body: { access: { kind: 'none' } } })).status).toBe(502)
  })

  test('without the key that it was sealed with it says what to do', async () => {
    app.ctx.db.prepare("UPDATE repository_access SET sealed = 'AAAA' || substr(sealed, 5) WHERE repository = 'lid'").run()
    await app.server.sync.request('lid', 'test')
    expect((await readOf('lid')).trouble).toContain('Give it anew in Settings, Code')
  })
})

test('a repository is shared by projects: read once, with a service for each', async () => {
  const project = await teo('/projects', { method: 'POST', body: { name: 'Glaze', prefix: 'GLA' } })
  expect(project.status).toBe(201)
  const outside = mkdtempSync(join(tmpdir(), 'dystracer-shared-'))
  execFileSync('git', ['clone', '--quiet', '--bare', repo.dir, join(outside, 'shelf.git')])
  app.ctx.config.repositoriesDir = outside
  expect((await connect({ url: join(outside, 'shelf.git') })).body).toMatchObject({ repository: 'shelf', service: 'shelf' })
  expect((await connect({ url: join(outside, 'shelf.git') }, 'GLA')).body).toMatchObject({ repository: 'shelf', service: 'gla-shelf' })
  expect((await connect({ url: join(outside, 'shelf.git') }, 'GLA')).body.fields.url).toContain('connected to this project already')
  const shelf = (await teo('/repositories')).body.rows.find((row: { repository: string }) => row.repository === 'shelf')
  expect(shelf.projects).toEqual(['EMB', 'GLA'])
  // Whoever reads one of the projects alone hears nothing of the other.
  expect((await readOf('shelf')).projects).toEqual(['EMB'])
  rmSync(outside, { recursive: true, force: true })
})

/** A real server of Debian's on loopback, for the user that runs the tests; without it the test is left out. */
const SSHD = '/usr/sbin/sshd'
const describeWithSshd = existsSync(SSHD) ? describe : describe.skip
describeWithSshd('over ssh', () => {
  let daemon: ChildProcess
  let port: number
  const authorized = () => join(folder, 'authorized_keys')
  const hostKey = (name: string) => execFileSync('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-f', join(folder, name)])
  const start = async (key: string) => {
    writeFileSync(
      join(folder, 'sshd_config'),
      [
        `Port ${port}`,
        'ListenAddress 127.0.0.1',
        `HostKey ${join(folder, key)}`,
        `PidFile ${join(folder, 'sshd.pid')}`,
        `AuthorizedKeysFile ${authorized()}`,
        'StrictModes no',
        'PasswordAuthentication no',
        'KbdInteractiveAuthentication no',
        'PermitRootLogin yes',
        'UsePAM no',
      ].join('\n'),
    )
    daemon = spawn(SSHD, ['-D', '-e', '-f', join(folder, 'sshd_config')], { stdio: 'ignore' })
    await until('sshd answers', () => isListening(port))
  }
  const stop = () =>
    new Promise<void>((resolve) => {
      daemon.once('exit', () => resolve())
      daemon.kill()
    })

  beforeAll(async () => {
    if (process.getuid?.() === 0) mkdirSync('/run/sshd', { recursive: true, mode: 0o755 })
    port = await freePort()
    writeFileSync(authorized(), '')
    chmodSync(authorized(), 0o600)
    hostKey('host-1')
    hostKey('host-2')
    await start('host-1')
  }, 30_000)
  afterAll(() => stop())

  test('a key made here reads it once its host knows the public half, and pushes a branch', async () => {
    const url = `ssh://${userInfo().username}@127.0.0.1:${port}${bare.replace('lid', 'vent')}`
    execFileSync('git', ['clone', '--quiet', '--bare', repo.dir, bare.replace('lid', 'vent')])
    expect((await connect({ url })).body.detail).toContain('make one for it')
    const made = await teo('/projects/EMB/repository-keys', { method: 'POST', body: {} })
    expect(made).toMatchObject({ status: 201, body: { publicKey: expect.stringMatching(/^ssh-ed25519 /) } })
    const access = { kind: 'key', keyId: made.body.keyId }
    expect((await connect({ url, access })).status).toBe(502)
    expect((await ines('/projects/EMB/repositories', { method: 'POST', body: { url, access } })).body.fields.access).toContain(
      'make a new one',
    )
    writeFileSync(authorized(), `${made.body.publicKey}\n`)
    expect(await connect({ url, access })).toMatchObject({ status: 201, body: { repository: 'vent' } })
    await until('its history was read', async () => (await readOf('vent'))?.commits === 1)
    expect((await readOf('vent')).access).toEqual({ kind: 'key', publicKey: made.body.publicKey })
    expect(everythingKept()).not.toContain('PRIVATE KEY')
    const item = (await ines('/items', { method: 'POST', body: { title: 'Vent stays shut', ownerId: 'ines' } })).body
    const started = await ines(`/items/${item.key}/start`, { method: 'POST', body: { repository: 'vent' } })
    expect(started.status).toBeLessThan(300)
    expect(execFileSync('git', ['branch', '--list'], { cwd: bare.replace('lid', 'vent'), encoding: 'utf8' })).toContain(started.body.branch)
  }, 60_000)

  test('a host that shows another key than before is not believed', async () => {
    await stop()
    await start('host-2')
    await app.server.sync.request('vent', 'test')
    expect((await readOf('vent')).trouble).toMatch(/host key|identification/i)
  }, 60_000)
})

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createTcpServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo
      server.close(() => resolve(port))
    })
  })
}

async function isListening(port: number): Promise<boolean> {
  const { connect: open } = await import('node:net')
  return new Promise((resolve) => {
    const socket = open(port, '127.0.0.1')
    socket.once('connect', () => {
      socket.destroy()
      resolve(true)
    })
    socket.once('error', () => resolve(false))
  })
}
