import { execFileSync, spawn } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { connect, createServer as createTcpServer, type AddressInfo } from 'node:net'
import { tmpdir, userInfo } from 'node:os'
import { join } from 'node:path'
import { removeData } from './demo-process.js'

/** A place where a team keeps bare repositories, with git and nothing else. */
export interface GitHost {
  /** How a repository in its folder is reached. */
  urlOf: (path: string) => string
  stop(): Promise<void>
}

/** Debian's ssh server on loopback, for the one who runs the test; it lets in whoever has a key that `allow` was given. */
export async function startSshHost(): Promise<GitHost & { allow: (publicKey: string) => void }> {
  const folder = mkdtempSync(join(tmpdir(), 'dystracer-ssh-'))
  const authorized = join(folder, 'authorized_keys')
  const port = await freePort()
  writeFileSync(authorized, '')
  chmodSync(authorized, 0o600)
  if (process.getuid?.() === 0) mkdirSync('/run/sshd', { recursive: true, mode: 0o755 })
  execFileSync('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-f', join(folder, 'host')])
  const settings = {
    Port: port,
    ListenAddress: '127.0.0.1',
    HostKey: join(folder, 'host'),
    PidFile: join(folder, 'sshd.pid'),
    AuthorizedKeysFile: authorized,
    StrictModes: 'no',
    PasswordAuthentication: 'no',
    KbdInteractiveAuthentication: 'no',
    PermitRootLogin: 'yes',
    UsePAM: 'no',
  }
  const lines = Object.entries(settings).map(([name, value]) => `${name} ${value}`)
  writeFileSync(join(folder, 'sshd_config'), lines.join('\n'))
  const daemon = spawn('/usr/sbin/sshd', ['-D', '-e', '-f', join(folder, 'sshd_config')], { stdio: 'ignore' })
  await answers(port)
  return {
    urlOf: (path) => `ssh://${userInfo().username}@127.0.0.1:${port}${path}`,
    allow: (publicKey) => writeFileSync(authorized, `${publicKey}\n`),
    stop: () =>
      new Promise((resolve) => {
        daemon.once('exit', () => {
          removeData(folder)
          resolve()
        })
        daemon.kill()
      }),
  }
}

/** git's smart HTTP by its own `http-backend`, behind basic authentication, for fetch and push; it can be gone for a while. */
export async function startHttpHost(folder: string, login: string): Promise<GitHost & { beAway: (isAway: boolean) => void }> {
  let isAway = false
  const server = createServer((request, response) => {
    if (isAway) {
      response.writeHead(503).end()
      return
    }
    if (request.headers.authorization !== `Basic ${Buffer.from(login).toString('base64')}`) {
      response.writeHead(401, { 'www-authenticate': 'Basic realm="git"' }).end()
      return
    }
    const url = new URL(request.url ?? '/', 'http://host')
    const backend = spawn('git', ['http-backend'], {
      env: {
        PATH: process.env.PATH,
        GIT_PROJECT_ROOT: folder,
        GIT_HTTP_EXPORT_ALL: '1',
        REMOTE_USER: 'team',
        REQUEST_METHOD: request.method,
        PATH_INFO: url.pathname,
        QUERY_STRING: url.search.slice(1),
        CONTENT_TYPE: request.headers['content-type'] ?? '',
        HTTP_CONTENT_ENCODING: request.headers['content-encoding'] ?? '',
        HTTP_GIT_PROTOCOL: String(request.headers['git-protocol'] ?? ''),
      },
    })
    request.pipe(backend.stdin)
    const pieces: Buffer[] = []
    backend.stdout.on('data', (piece: Buffer) => pieces.push(piece))
    backend.on('close', () => {
      const out = Buffer.concat(pieces)
      const end = out.indexOf('\r\n\r\n')
      const head = out.subarray(0, end).toString().split('\r\n')
      const fields = head.map((line) => [line.slice(0, line.indexOf(':')), line.slice(line.indexOf(':') + 1).trim()] as const)
      const status = Number.parseInt(fields.find(([name]) => name === 'Status')?.[1] ?? '200', 10)
      response.writeHead(status, Object.fromEntries(fields.filter(([name]) => name !== 'Status'))).end(out.subarray(end + 4))
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  return {
    urlOf: (path) => `http://127.0.0.1:${port}${path.slice(folder.length)}`,
    beAway: (away) => {
      isAway = away
    },
    stop: () => new Promise((resolve) => server.close(() => resolve())),
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createTcpServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo
      server.close(() => resolve(port))
    })
  })
}

/** Waits until something listens at a port. */
async function answers(port: number): Promise<void> {
  const isListening = () =>
    new Promise<boolean>((resolve) => {
      const socket = connect(port, '127.0.0.1')
      socket.once('connect', () => {
        socket.destroy()
        resolve(true)
      })
      socket.once('error', () => resolve(false))
    })
  const endMs = Date.now() + 10_000
  while (!(await isListening())) {
    if (Date.now() > endMs) throw new Error(`nothing listens at ${port}`)
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}
