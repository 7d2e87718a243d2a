import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { spawnSync } from 'node:child_process'
import { makeConfig, type CommandOptions, type Config } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import { buildContext } from '#context'
import { openMainDbAsIs, openReadOnly } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { verifyTables } from '#verify-tables'
import { startServer } from '#server'
import { findBrokenBlobs } from '#subjects/talk/blobs'
import { firstAdminSecret } from '#subjects/people/accounts.commands'
import { makeToken } from '#subjects/people/tokens.commands'
import { zMakeToken } from '@dystracer/core/people/token-wire'
import { SCOPES } from '@dystracer/core/people/who'
import { z } from 'zod'

/** Starts the server on a real data folder; until somebody can sign in, each start prints the sign-up link of the first administrator. */
export async function start(config: Config, say: (line: string) => void): Promise<() => Promise<void>> {
  const owned = buildContext(config)
  const server = await startServer(owned)
  const secret = firstAdminSecret(owned.ctx)
  const address = `${config.tls === null ? 'http' : 'https'}://${config.host}:${config.port}`
  if (secret) say(`Make the first administrator at ${address}/sign-up/${secret}`)
  say(`Dystracer is ready at ${address}`)
  return server.stop
}

/** The data folder that a command means: the one named, else the real one if it is there, else the demo's. */
function dataDirOf(options: CommandOptions): string {
  const env = readEnv()
  const named = options.data ?? env.DYSTRACER_DATA
  if (named) return resolve(named)
  const real = makeConfig('real', env).dataDir
  const dir = existsSync(join(real, 'dystracer.db')) ? real : makeConfig('demo', env).dataDir
  return dir
}

function requireData(options: CommandOptions): string {
  const dir = dataDirOf(options)
  if (!existsSync(join(dir, 'dystracer.db'))) throw new Error(`there is no data in ${dir}; name the folder with --data`)
  return dir
}

/** A token as asked for on the command line. */
export interface TokenOptions {
  name: string
  scope: string
  project?: string
  service?: string[]
  origin?: string[]
  days?: string
}

/** Makes a token; throws with what is wrong for a scope, project, service or number of days that makes no sense. */
export function token(options: CommandOptions, asked: TokenOptions): string {
  const { name, project, service: services = [], origin: origins = [], days } = asked
  const scope = SCOPES.find((known) => known === asked.scope)
  if (!scope) throw new Error(`--scope must be one of ${SCOPES.join(', ')}, not ${asked.scope}`)
  const dayCount = days === undefined ? null : Number(days)
  if (scope !== 'admin') {
    const checked = zMakeToken.safeParse({ name, scope, services, origins, days: dayCount })
    if (!checked.success) throw new Error(z.prettifyError(checked.error))
  }
  const db = openMainDbAsIs(join(requireData(options), 'dystracer.db'))
  try {
    if (project !== undefined && !sql(db, 'SELECT 1 FROM project WHERE prefix = @project').get({ project }))
      throw new Error(`there is no project ${project}; --project takes its prefix`)
    return makeToken(db, { name, scope, project: project ?? null, services, origins, days: dayCount, nowMs: Date.now() })
  } finally {
    db.close()
  }
}

/** True when tables and journal agree, SQLite finds both databases sound, and every attached file is as it was attached. */
export async function verify(options: CommandOptions, say: (line: string) => void): Promise<boolean> {
  const dataDir = requireData(options)
  const db = openReadOnly(join(dataDir, 'dystracer.db'))
  const volume = openReadOnly(join(dataDir, 'occurrences.db'))
  try {
    const broken = [db, volume]
      .flatMap((file) => (file.pragma('integrity_check') as { integrity_check: string }[]).map((row) => row.integrity_check))
      .filter((line) => line !== 'ok')
    for (const line of broken) say(`file: ${line}`)
    const differences = verifyTables({ db, dataDir })
    for (const difference of differences)
      say(
        `${difference.table}: ${difference.onlyHere} rows only in the table, ${difference.onlyRebuilt} only in the journal, such as ${difference.example}`,
      )
    const blobs = await findBrokenBlobs(db, dataDir)
    for (const line of blobs) say(`attachment: ${line}`)
    const count = sql(db, 'SELECT count(*) AS count FROM journal').get<{ count: number }>({})?.count ?? 0
    const isClean = broken.length + differences.length + blobs.length === 0
    say(isClean ? `clean: ${count} journal entries give the tables as they are` : 'not clean')
    return isClean
  } finally {
    db.close()
    volume.close()
  }
}

/** A tar of both databases (SQLite's online backup: consistent while the server writes) and the git mirrors. */
export async function backup(options: CommandOptions, file: string, say: (line: string) => void): Promise<void> {
  const dataDir = requireData(options)
  const target = resolve(file)
  mkdirSync(dirname(target), { recursive: true })
  const work = join(dataDir, `backup-${process.pid}`)
  mkdirSync(work)
  try {
    // The volume first: the journal's cursor may then lag behind it, never run ahead.
    for (const name of ['dystracer.db', 'occurrences.db']) {
      const db = openReadOnly(join(dataDir, name))
      await db.backup(join(work, name))
      db.close()
    }
    // Of a demo also its outside world and the mark that it has lived through its year: without them it would be made anew.
    const parts = ['git', 'blobs', 'outside', 'seeded'].flatMap((name) => (existsSync(join(dataDir, name)) ? ['-C', dataDir, name] : []))
    runTar(['-czf', `${target}.part`, '-C', work, 'dystracer.db', 'occurrences.db', ...parts])
    renameSync(`${target}.part`, target)
    say(`saved to ${target} (${Math.round(statSync(target).size / 1024)} KiB)`)
  } finally {
    rmSync(work, { recursive: true, force: true })
  }
}

export function restore(options: CommandOptions, file: string, say: (line: string) => void): void {
  const dataDir = dataDirOf(options)
  mkdirSync(dataDir, { recursive: true, mode: 0o700 })
  if (readdirSync(dataDir).length > 0) throw new Error(`${dataDir} is not empty; name an empty folder with --data, nothing was changed`)
  runTar(['-xzf', resolve(file), '-C', dataDir, '--no-same-owner'])
  say(`restored to ${dataDir}`)
}

function runTar(args: string[]): void {
  const { status, stderr } = spawnSync('tar', args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(`tar failed: ${stderr.trim()}`)
}
