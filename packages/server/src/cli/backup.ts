import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { cp, link, readdir } from 'node:fs/promises'
import { basename, dirname, join, relative, resolve } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { z } from 'zod'
import { makeConfig, type CommandOptions } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import { openOlder, openReadOnly } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { headOf } from '#platform/journal/chain'
import { placeDurably, sha256Of } from '#platform/files/durable'
import { noteLast, readLast } from '#platform/files/last-backup'
import { isTrailChained, noteAudit, noteInOlderState } from '#subjects/audit/index'
import { findTroubles, requireData } from './data-folder.js'

/** Of a demo also its outside world and the mark that it has lived through its year: without them it would be made anew. */
const OF_THE_DEMO = ['outside', 'seeded']
/** A timer holds no more than 2^31 ms, some 24 days: a longer one would fire at once. */
const EVERY_MAX_HOURS = 24 * 24
const NAME = /^dystracer-\d{8}-\d{6}\.tgz$/

/** What lies in a backup, so that it can be checked without the folder that it was made of. */
const zManifest = z.object({
  format: z.literal(1),
  madeAtMs: z.number().int(),
  kind: z.enum(['demo', 'real']),
  journalSeq: z.number().int(),
  journalChain: z.string(),
  files: z.array(z.object({ path: z.string().max(4096), sizeBytes: z.number().int(), sha256: z.string().length(64) })),
})
type Manifest = z.infer<typeof zManifest>

/**
 * A copy of the whole data folder as one file, while the server runs or not. Each database is one state (`VACUUM INTO`, which a busy
 * writer cannot make begin again); the journal first, so that whatever it names is in what is copied after it: attachments, whose files
 * stand before their entry, occurrences, and mirrors, whose refs are copied before their objects. The file appears whole or not at all.
 */
export async function backup(options: CommandOptions, file: string, say: (line: string) => void): Promise<string> {
  const dataDir = requireData(options)
  const target = resolve(file)
  mkdirSync(dirname(target), { recursive: true })
  removeLeftOvers(dataDir)
  const work = mkdtempSync(join(dataDir, 'backup-'))
  try {
    for (const name of ['dystracer.db', 'occurrences.db']) {
      const db = openReadOnly(join(dataDir, name))
      db.prepare('VACUUM INTO ?').run(join(work, name))
      db.close()
    }
    // Attached files are written once: linked, not copied, so that large ones cost no room while a backup is made.
    if (existsSync(join(dataDir, 'blobs'))) await linkTree(join(dataDir, 'blobs'), join(work, 'blobs'))
    for (const name of OF_THE_DEMO)
      if (existsSync(join(dataDir, name))) await cp(join(dataDir, name), join(work, name), { recursive: true })
    for (const mirror of mirrorsIn(dataDir)) await copyMirror(join(dataDir, 'git', mirror), join(work, 'git', mirror))
    const manifest = await describe(work)
    writeFileSync(join(work, 'manifest.json'), JSON.stringify(manifest))
    runTar(['-czf', `${target}.part`, '-C', work, 'manifest.json', ...readdirSync(work).filter((name) => name !== 'manifest.json')])
    await placeDurably(`${target}.part`, target)
    const sizeBytes = statSync(target).size
    noteLast(dataDir, { atMs: manifest.madeAtMs, file: target, sizeBytes, rehearsedAtMs: null })
    say(`saved to ${target} (${Math.ceil(sizeBytes / 1024)} KiB, ${manifest.files.length} files, journal up to ${manifest.journalSeq})`)
    return target
  } finally {
    rmSync(work, { recursive: true, force: true })
    rmSync(`${target}.part`, { force: true })
  }
}

/** What `backup` was asked for: one file, or one of a row, once or again and again until a signal ends it. */
export async function runBackups(
  options: CommandOptions,
  place: string,
  { keep, every }: { keep?: string | undefined; every?: string | undefined },
  say: (line: string) => void,
): Promise<void> {
  if (keep === undefined && every === undefined) return void (await backup(options, place, say))
  const kept = Number(keep ?? 14)
  if (!Number.isInteger(kept) || kept < 1 || kept > 1000) throw new Error(`--keep must be a number from 1 to 1000, not ${keep}`)
  const hours = every === undefined ? 0 : Number(/^(\d+(?:\.\d+)?)h?$/.exec(every)?.[1])
  if (!(every === undefined || (hours > 0 && hours <= EVERY_MAX_HOURS))) throw new Error(`--every must be hours such as 24h, not ${every}`)
  for (;;) {
    await backupInRow(options, { folder: resolve(place), keep: kept }, say)
    if (hours === 0) return
    await setTimeout(hours * 3_600_000)
  }
}

/** One more of a row of backups in a folder, and a rehearsal of it; the oldest beyond `keep` go, once the new one is known to be good. */
export async function backupInRow(
  options: CommandOptions,
  { folder, keep }: { folder: string; keep: number },
  say: (line: string) => void,
): Promise<void> {
  const stamp = new Date()
    .toISOString()
    .replace(/[-:]|\.\d+Z/g, '')
    .replace('T', '-')
  await backup(options, join(folder, `dystracer-${stamp}.tgz`), say)
  await rehearse(options, folder, say)
  for (const old of rowIn(folder).slice(0, -keep)) {
    rmSync(join(folder, old))
    say(`removed ${old}: ${keep} are kept`)
  }
}

/**
 * Restores a backup (of a folder: the newest of its row) beside the data, verifies what came out, and removes
 * it. Throws with what is wrong.
 */
export async function rehearse(options: CommandOptions, place: string, say: (line: string) => void): Promise<void> {
  const file = statSync(place).isDirectory() ? join(place, rowIn(place).at(-1) ?? '') : place
  if (!statSync(file).isFile()) throw new Error(`there is no backup in ${place}`)
  const dataDir = requireData(options)
  const scratch = mkdtempSync(join(dataDir, 'rehearsal-'))
  try {
    await unpack(file, scratch)
    const { count, troubles } = await findTroubles(scratch)
    for (const line of troubles) say(line)
    if (troubles.length > 0) throw new Error(`${file} can be restored, but what comes out is not clean`)
    const last = readLast(dataDir)
    if (last && resolve(last.file) === resolve(file)) noteLast(dataDir, { ...last, rehearsedAtMs: Date.now() })
    say(`rehearsed ${file}: ${count} journal entries give the tables as they are`)
  } finally {
    rmSync(scratch, { recursive: true, force: true })
  }
}

/**
 * Brings a backup into an empty folder: the one named, else the real one, never the demo's. Everything is unpacked and checked beside it
 * before it takes its place; a file that is no backup, is damaged, or was made by a newer program is refused and nothing is changed.
 */
export async function restore(options: CommandOptions, file: string, say: (line: string) => void): Promise<void> {
  const env = readEnv(options.config)
  const named = options.data ?? env.DYSTRACER_DATA
  const dataDir = resolve(named ?? makeConfig('real', env).dataDir)
  if (existsSync(dataDir) && readdirSync(dataDir).length > 0)
    throw new Error(`${dataDir} is not empty; name an empty folder with --data, nothing was changed`)
  mkdirSync(dirname(dataDir), { recursive: true })
  const scratch = mkdtempSync(`${dataDir}.restoring-`)
  try {
    const { kind, madeAtMs, journalSeq } = await unpack(resolve(file), scratch)
    if (kind === 'demo' && named === undefined) throw new Error(`${file} holds the demo's data; name a folder for it with --data`)
    noteRestored(scratch, file)
    if (existsSync(dataDir)) rmSync(dataDir, { recursive: true })
    renameSync(scratch, dataDir)
    say(`restored to ${dataDir}: as of ${new Date(madeAtMs).toISOString()}, journal up to ${journalSeq}`)
  } finally {
    rmSync(scratch, { recursive: true, force: true })
  }
}

/** A state of an older program has no trail yet. */
function noteRestored(dataDir: string, file: string): void {
  const db = openOlder(join(dataDir, 'dystracer.db'))
  const hasTrail = sql(db, "SELECT 1 FROM sqlite_master WHERE name = 'audit_entry'").get({}) !== undefined
  const noted = { kind: 'restored', actor: 'system', about: file, place: 'the command line' } as const
  if (hasTrail && isTrailChained(db)) noteAudit({ db, nowMs: Date.now }, noted)
  else if (hasTrail) noteInOlderState(db, noted)
  db.close()
}

/** What a backup or rehearsal that was killed left behind; one under way is younger. */
function removeLeftOvers(dataDir: string): void {
  for (const name of readdirSync(dataDir)) {
    const path = join(dataDir, name)
    if (/^(?:backup|rehearsal)-\w{6}$/.test(name) && Date.now() - statSync(path).mtimeMs > 86_400_000) rmSync(path, { recursive: true })
  }
}

function rowIn(folder: string): string[] {
  return readdirSync(folder)
    .filter((name) => NAME.test(name))
    .sort()
}

async function unpack(file: string, into: string): Promise<Manifest> {
  runTar(['-xzf', file, '-C', into, '--no-same-owner', '--no-same-permissions'])
  const path = join(into, 'manifest.json')
  if (!existsSync(path)) throw new Error(`${file} is not a backup of Dystracer: it has no manifest. Nothing was changed`)
  const parsed = zManifest.safeParse(JSON.parse(readFileSync(path, 'utf8')))
  if (!parsed.success) throw new Error(`the manifest of ${file} cannot be read; it may come from a newer version. Nothing was changed`)
  const manifest = parsed.data
  const found = new Map((await describeFiles(into)).map((each) => [each.path, each]))
  found.delete('manifest.json')
  for (const expected of manifest.files) {
    const there = found.get(expected.path)
    if (!there) throw new Error(`${file} lacks ${expected.path}; nothing was changed`)
    if (there.sha256 !== expected.sha256) throw new Error(`${expected.path} in ${file} is damaged; nothing was changed`)
    found.delete(expected.path)
  }
  const stranger = [...found.keys()][0]
  if (stranger !== undefined) throw new Error(`${file} holds ${stranger}, which its manifest does not name; nothing was changed`)
  rmSync(path)
  // Refuses what a newer program wrote; an older state is brought up to date by the first start.
  openOlder(join(into, 'dystracer.db')).close()
  reconcile(into)
  return manifest
}

/**
 * The occurrences are a moment younger than the journal: every group of theirs is told to it again, so that none is left without its
 * fault. Telling again what is known changes nothing.
 */
function reconcile(dataDir: string): void {
  const volume = openOlder(join(dataDir, 'occurrences.db'))
  volume.exec('INSERT INTO group_change (fingerprint) SELECT fingerprint FROM fault_group')
  volume.close()
}

async function describe(work: string): Promise<Manifest> {
  const db = openReadOnly(join(work, 'dystracer.db'))
  const kind = sql(db, "SELECT value FROM meta WHERE name = 'kind'").get<{ value: string }>({})?.value === 'demo' ? 'demo' : 'real'
  const { seq: journalSeq, chain: journalChain } = headOf(db)
  db.close()
  return { format: 1, madeAtMs: Date.now(), kind, journalSeq, journalChain, files: await describeFiles(work) }
}

async function describeFiles(dir: string): Promise<Manifest['files']> {
  const entries = await readdir(dir, { recursive: true, withFileTypes: true })
  const files: Manifest['files'] = []
  for (const entry of entries) {
    if (entry.isDirectory()) continue
    const path = join(entry.parentPath, entry.name)
    // A link could lead out of the folder.
    if (!entry.isFile()) throw new Error(`${relative(dir, path)} is not a plain file; nothing was changed`)
    files.push({ path: relative(dir, path), sizeBytes: statSync(path).size, sha256: await sha256Of(path) })
  }
  return files.sort((a, b) => (a.path < b.path ? -1 : 1))
}

function mirrorsIn(dataDir: string): string[] {
  const dir = join(dataDir, 'git')
  return existsSync(dir) ? readdirSync(dir).filter((name) => existsSync(join(dir, name, 'HEAD'))) : []
}

/** Refs first: a fetch writes objects before the refs that name them, so that those copied after are all that the refs need. */
async function copyMirror(from: string, to: string): Promise<void> {
  mkdirSync(to, { recursive: true })
  for (const name of ['HEAD', 'config', 'refs', 'packed-refs'])
    if (existsSync(join(from, name)))
      await cp(join(from, name), join(to, name), { recursive: true, filter: (path) => !path.endsWith('.lock') })
  await linkTree(join(from, 'objects'), join(to, 'objects'))
}

/** The same files by another name, without what is only being written. */
async function linkTree(from: string, to: string): Promise<void> {
  if (statSync(from).isFile()) return void (await link(from, to))
  mkdirSync(to, { recursive: true })
  for (const entry of await readdir(from, { withFileTypes: true })) {
    if (entry.isDirectory()) await linkTree(join(from, entry.name), join(to, entry.name))
    else if (entry.isFile() && !/^tmp_|\.(?:lock|part)$/.test(entry.name)) await linkIfThere(join(from, entry.name), join(to, entry.name))
  }
}

async function linkIfThere(from: string, to: string): Promise<void> {
  try {
    await link(from, to)
  } catch (error) {
    // A file that went away meanwhile was no longer needed.
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
  }
}

function runTar(args: string[]): void {
  const { status, stderr } = spawnSync('tar', args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(`${basename(args[1] ?? '')}: ${stderr.trim().split('\n')[0]}; nothing was changed`)
}
