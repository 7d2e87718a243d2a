import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const ROOT = join(import.meta.dirname, '../..')
const CLI = join(ROOT, 'packages/server/dist/cli/main.js')
const DEMO = join(ROOT, 'packages/demo/dist/main.js')
export const DAY = '2026-11-24'

export interface Demo {
  baseUrl: string
  outsideUrl: string
  dataDir: string
  child: ChildProcess
  stop(): Promise<void>
}

/** Where a run of journeys keeps what all of them begin with; made and removed by Jest's global set-up. */
const SHARED = process.env.DYSTRACER_TEST_SHARED

/** The demo's data as its first start makes them: made once for a run of journeys by whichever needs them first, then copied. */
async function seededCopy(): Promise<string> {
  const dataDir = mkdtempSync(join(tmpdir(), 'dystracer-e2e-'))
  if (SHARED === undefined) return dataDir
  const seed = join(SHARED, 'seed')
  const whole = join(SHARED, 'seed-is-whole')
  if (isMine(join(SHARED, 'seed-is-begun'))) {
    const first = await startDemo(seed)
    await first.stop()
    mkdirSync(whole)
  }
  while (!existsSync(whole)) await new Promise((resolve) => setTimeout(resolve, 200))
  cpSync(seed, dataDir, { recursive: true })
  return dataDir
}

/** Whether the folder was not there yet: of all who ask at once, one hears yes. */
function isMine(folder: string): boolean {
  try {
    mkdirSync(folder)
    return true
  } catch {
    return false
  }
}

/** The first of three ports in a row that nobody listens on: for the product, the stand-ins and their mail. */
async function freePorts(): Promise<number> {
  for (;;) {
    // Below those that the system gives to connections.
    const first = 20_000 + Math.floor(Math.random() * 12_000)
    const areFree = await Promise.all([first, first + 1, first + 2].map(isFree))
    if (areFree.every(Boolean)) return first
  }
}

function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })
}

/** Starts the real demo on data of its own, the day pinned; resolves when it says that it is ready. */
export async function startDemo(givenDir?: string): Promise<Demo> {
  const dataDir = givenDir ?? (await seededCopy())
  const { said: _, ...demo } = await startProgram([DEMO, 'demo'], dataDir, { DYSTRACER_DAY: DAY })
  return demo
}

/** Starts the product itself, as a team does, on an empty folder; `said` holds the link by which the first person signs up. */
export function startEmpty(env: Record<string, string>): Promise<Demo & { said: string }> {
  return startProgram([CLI, 'start'], mkdtempSync(join(tmpdir(), 'dystracer-first-')), env)
}

async function startProgram(program: string[], dataDir: string, env: Record<string, string>): Promise<Demo & { said: string }> {
  const port = await freePorts()
  const child = spawn(process.execPath, [...program, '--port', String(port), '--data', dataDir], {
    cwd: ROOT,
    env: { ...process.env, ...env, NODE_OPTIONS: '' },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  child.stderr.on('data', (chunk: Buffer) => {
    said += chunk.toString()
  })
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString()
      if (said.includes('ready at')) resolve()
    })
    child.on('exit', (code) => reject(new Error(`the program ended (${code}): ${said}`)))
  })
  return {
    baseUrl: `http://127.0.0.1:${port}`,
    outsideUrl: `http://127.0.0.1:${port + 1}`,
    dataDir,
    child,
    said,
    stop: () =>
      new Promise((resolve) => {
        if (child.exitCode !== null) {
          resolve()
          return
        }
        child.removeAllListeners('exit')
        child.on('exit', () => resolve())
        child.kill('SIGTERM')
      }),
  }
}

export function removeData(dataDir: string): void {
  if (dataDir.startsWith(tmpdir()) && existsSync(dataDir)) rmSync(dataDir, { recursive: true, force: true })
}

/** `./dystracer verify` on a data folder: exit code and what it said. */
export function verifyData(dataDir: string): { status: number | null; said: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [CLI, 'verify', '--data', dataDir], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  })
  return { status, said: stdout + stderr }
}

/** A new access token of a running demo. */
export function makeToken(dataDir: string, scope: 'read' | 'write' | 'intake' | 'evidence'): string {
  const { status, stdout, stderr } = spawnSync(process.execPath, [CLI, 'token', '--name', 'test', '--scope', scope, '--data', dataDir], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  })
  if (status !== 0) throw new Error(stderr)
  return stdout.trim()
}

/** Any git client, with its own identity and no settings of the machine. */
export function git(dir: string, ...args: string[]): string {
  const { status, stdout, stderr } = spawnSync('git', args, {
    cwd: dir,
    encoding: 'utf8',
    env: {
      PATH: process.env.PATH,
      HOME: dir,
      GIT_CONFIG_NOSYSTEM: '1',
      GIT_CONFIG_GLOBAL: '/dev/null',
      GIT_AUTHOR_NAME: 'Ines Okafor',
      GIT_AUTHOR_EMAIL: 'ines@emberwick.example',
      GIT_COMMITTER_NAME: 'Ines Okafor',
      GIT_COMMITTER_EMAIL: 'ines@emberwick.example',
    },
  })
  if (status !== 0) throw new Error(`git ${args.join(' ')}: ${stderr}`)
  return stdout
}
