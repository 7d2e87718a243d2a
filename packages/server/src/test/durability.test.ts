import { afterEach, describe, expect, test } from '@jest/globals'
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openReadOnly } from '#platform/db/open'
import { exceptionRequest } from './app-harness.js'

const CLI = join(import.meta.dirname, '../cli/main.js')
const DEMO = join(import.meta.dirname, '../../../demo/dist/main.js')
const dirs: string[] = []
const children: ChildProcess[] = []
afterEach(() => {
  for (const child of children.splice(0)) if (child.exitCode === null) child.kill('SIGKILL')
  for (const dir of dirs.splice(0)) rmSync(dir, { recursive: true, force: true })
})

function makeDir(): string {
  const dir = mkdtempSync(join(tmpdir(), 'dystracer-durable-'))
  dirs.push(dir)
  return dir
}
function run(...args: string[]): { status: number | null; stdout: string; stderr: string } {
  return spawnSync(process.execPath, [args[0] === 'demo' ? DEMO : CLI, ...args], {
    encoding: 'utf8',
    timeout: 20_000,
    env: { ...process.env, NODE_OPTIONS: '' },
  })
}
async function start(dataDir: string, port: number): Promise<{ child: ChildProcess; said: () => string }> {
  const child = spawn(process.execPath, [CLI, 'start', '--data', dataDir, '--port', String(port)], {
    // Every message is looked for afterwards: none is to be counted only.
    env: { ...process.env, NODE_OPTIONS: '', DYSTRACER_KEEP_PER_MINUTE: '10000000', DYSTRACER_REQUESTS_PER_MINUTE: '0' },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  children.push(child)
  let said = ''
  child.stderr.on('data', (chunk: Buffer) => {
    said += chunk.toString()
  })
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString()
      if (said.includes('Dystracer is ready at')) resolve()
    })
    child.on('exit', (code) => reject(new Error(`ended (${code}): ${said}`)))
  })
  return { child, said: () => said }
}
const killed = (child: ChildProcess) =>
  new Promise<void>((resolve) => {
    child.removeAllListeners('exit')
    child.on('exit', () => resolve())
    child.kill('SIGKILL')
  })

describe('a server that is killed in the middle of its work', () => {
  test('has every record that it answered with 2xx, and its tables agree with its journal', async () => {
    const dataDir = makeDir()
    const first = await start(dataDir, 4761)
    const token = run('token', '--name', 'sender', '--scope', 'intake', '--data', dataDir).stdout.trim()
    const answered = new Set<string>()
    let isOver = false
    const sender = async (lane: number) => {
      for (let turn = 0; !isOver; turn++) {
        const message = `lane ${lane} turn ${turn}`
        try {
          const response = await fetch('http://127.0.0.1:4761/otlp/v1/logs', {
            method: 'POST',
            headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
            body: JSON.stringify(exceptionRequest({ atMs: Date.now(), message, count: 3 })),
          })
          await response.arrayBuffer()
          if (response.ok) answered.add(message)
        } catch {
          // The server was killed under this request: it was never answered.
          return
        }
      }
    }
    const senders = [0, 1, 2, 3].map(sender)
    while (answered.size < 120) await new Promise((resolve) => setTimeout(resolve, 5))
    await killed(first.child)
    isOver = true
    await Promise.all(senders)
    const volume = openReadOnly(join(dataDir, 'occurrences.db'))
    const stored = volume
      .prepare<[], { message: string; count: number }>('SELECT message, count(*) AS count FROM occurrence GROUP BY message')
      .all()
    const counted = volume.prepare<[], { count: number }>('SELECT sum(count) AS count FROM fault_group').get()?.count
    const rows = volume.prepare<[], { count: number }>('SELECT count(*) AS count FROM occurrence').get()?.count
    volume.close()
    const byMessage = new Map(stored.map((row) => [row.message, row.count]))
    expect([...answered].filter((message) => byMessage.get(message) !== 3)).toEqual([])
    expect(counted).toBe(rows)
    const second = await start(dataDir, 4761)
    await killed(second.child)
    const verified = run('verify', '--data', dataDir)
    expect(verified.stdout).toContain('clean')
    expect(verified.status).toBe(0)
  }, 60_000)
})

describe('the commands', () => {
  test('first start prints a one-time sign-up link; backup and restore carry all over; the two kinds of data do not mix', async () => {
    const dataDir = makeDir()
    const { child, said } = await start(dataDir, 4764)
    const secret = /sign-up\/([\w-]+)/.exec(said())?.[1]
    const signUp = () =>
      fetch('http://127.0.0.1:4764/api/v1/sign-up', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          secret,
          name: 'Ines Okafor',
          email: 'ines@emberwick.example',
          password: 'long enough to pass',
          project: { name: 'Kiln works', prefix: 'kw' },
        }),
      })
    const first = await signUp()
    expect(first.status).toBe(200)
    expect((await signUp()).status).toBe(401)
    expect(((await first.json()) as { project: object }).project).toEqual({ prefix: 'KW', name: 'Kiln works' })
    const token = run('token', '--name', 'w', '--scope', 'write', '--data', dataDir)
    expect(token.stdout).toMatch(/^\S+\n$/)
    const logged = await fetch('http://127.0.0.1:4764/api/v1/items', {
      method: 'POST',
      headers: { authorization: `Bearer ${token.stdout.trim()}`, 'content-type': 'application/json' },
      body: JSON.stringify({ title: 'Kept in the backup' }),
    })
    expect(logged.status).toBe(201)
    const file = join(makeDir(), 'copy.tgz')
    expect(run('backup', file, '--data', dataDir).status).toBe(0)
    await killed(child)
    const restored = join(makeDir(), 'restored')
    expect(run('restore', file, '--data', restored).status).toBe(0)
    expect(run('verify', '--data', restored).stdout).toContain('clean')
    const db = openReadOnly(join(restored, 'dystracer.db'))
    expect(db.prepare<[], { title: string }>('SELECT title FROM item').get()?.title).toBe('Kept in the backup')
    db.close()
    expect(run('restore', file, '--data', restored).stderr).toContain('not empty')
    const mixed = run('demo', '--data', restored, '--port', '4764')
    expect(mixed.status).toBe(1)
    expect(mixed.stderr).toContain('real data')
    expect(existsSync(join(restored, 'outside'))).toBe(false)
  }, 60_000)

  test('a token is refused for an unknown scope, and data that are not there are named', () => {
    expect(run('token', '--name', 'x', '--scope', 'everything', '--data', makeDir()).stderr).toContain('--scope must be')
    expect(run('verify', '--data', join(makeDir(), 'nowhere')).stderr).toContain('there is no data')
  })
})
