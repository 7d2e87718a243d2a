import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Config } from '@dystracer/server/platform/config/config'
import { buildContext, refuseOtherKind, type OwnedContext } from '@dystracer/server/context'
import { sql } from '@dystracer/server/platform/db/statements'
import { startServer } from '@dystracer/server/server'
import { makeToken } from '@dystracer/server/subjects/people/tokens.commands'
import { rememberSecret } from '@dystracer/server/subjects/people/secrets'
import { webhookSecret } from '@dystracer/server/subjects/code/webhook-secret'
import { seedDemo } from './seed-demo.js'

const STANDINS = join(import.meta.dirname, '../../standins/dist')

/** Starts the demo: makes its world on first use, then the stand-ins and the server; gives the function that stops all of it. */
export async function runDemo(config: Config, say: (line: string) => void): Promise<() => Promise<void>> {
  refuseOtherKind(config)
  const outsideDir = join(config.dataDir, 'outside')
  const isFresh = !existsSync(join(config.dataDir, 'seeded'))
  if (isFresh) {
    say('Making the demo’s repositories and really running their tests (about 20 s, on the first start only) …')
    for (const name of ['dystracer.db', 'occurrences.db'])
      for (const ending of ['', '-wal', '-shm']) rmSync(join(config.dataDir, name + ending), { force: true })
    rmSync(join(config.dataDir, 'git'), { recursive: true, force: true })
    await runNode([join(STANDINS, 'seed.js'), outsideDir, config.day ?? new Date().toISOString().slice(0, 10)])
  }
  const clock = { nowMs: null as number | null }
  const owned = buildContext(config, { nowMs: () => clock.nowMs ?? Date.now() })
  const standins = await startStandins(config, owned, outsideDir)
  try {
    if (isFresh) await seed(config, owned, clock, outsideDir, say)
    const server = await startServer(owned)
    await fetch(`${config.outsideUrl}/api/ready`, { method: 'POST' })
    return async () => {
      await stopChild(standins)
      await server.stop()
    }
  } catch (error) {
    await stopChild(standins)
    throw error
  }
}

async function seed(
  config: Config,
  owned: OwnedContext,
  clock: { nowMs: number | null },
  outsideDir: string,
  say: (line: string) => void,
): Promise<void> {
  const { db } = owned.ctx
  say('Living through the past year …')
  // The seeded past can be made again; only from here on does an answer promise durability.
  db.pragma('synchronous = OFF')
  await seedDemo(owned.ctx, {
    worldPath: join(outsideDir, 'world.jsonl'),
    setNowMs: (nowMs) => {
      clock.nowMs = nowMs
    },
    onProgress: (done) => say(`  ${done} steps`),
  })
  clock.nowMs = null
  sql(
    db,
    `INSERT INTO repository_state (repository, fetched_at_ms) SELECT name, @nowMs FROM repository WHERE 1
      ON CONFLICT (repository) DO NOTHING`,
  ).run({ nowMs: Date.now() })
  db.pragma('synchronous = FULL')
  db.pragma('wal_checkpoint(TRUNCATE)')
  writeFileSync(join(config.dataDir, 'seeded'), config.day ?? new Date().toISOString())
}

/** The stand-ins, in a process of their own; they learn the webhook's secret and a token of scope intake through their environment. */
async function startStandins(config: Config, owned: OwnedContext, outsideDir: string): Promise<ChildProcess> {
  const { db } = owned.ctx
  const secret = webhookSecret(db)
  const token = rememberSecret(db, 'standins-token', () =>
    makeToken(db, { name: 'stand-ins', project: null, scope: 'intake', nowMs: Date.now() }),
  )
  const child = spawn(
    process.execPath,
    [join(STANDINS, 'main.js'), '--data', outsideDir, '--port', String(config.port + 1), '--server', `http://127.0.0.1:${config.port}`],
    {
      stdio: ['pipe', 'pipe', 'inherit'],
      env: { ...process.env, STANDINS_SECRET: secret, STANDINS_TOKEN: token },
    },
  )
  await new Promise<void>((resolve, reject) => {
    child.stdout?.on('data', (chunk: Buffer) => {
      if (chunk.toString().includes('outside is ready')) resolve()
    })
    child.on('exit', (code) => reject(new Error(`the stand-ins ended (${code}); is port ${config.port + 1} or ${config.port + 2} taken?`)))
  })
  return child
}

function runNode(args: string[]): Promise<void> {
  return new Promise((resolve, reject) => {
    spawn(process.execPath, args, { stdio: ['ignore', 'ignore', 'inherit'] })
      .on('close', (code) => (code === 0 ? resolve() : reject(new Error(`the demo's world could not be made (${code})`))))
      .on('error', reject)
  })
}

async function stopChild(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return
  await new Promise<void>((resolve) => {
    child.removeAllListeners('exit')
    child.on('exit', () => resolve())
    child.kill('SIGTERM')
    setTimeout(() => child.kill('SIGKILL'), 5000).unref()
  })
}
