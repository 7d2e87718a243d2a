import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import Database from 'better-sqlite3'

export type Db = Database.Database
const MAIN_MIGRATION = /^\d{4}-.*\.sql$/
const VOLUME_MIGRATION = /^volume-\d{4}-.*\.sql$/
const MIGRATIONS = join(import.meta.dirname, '../../../src/platform/db/migrations')

/** The main database, migrated to the newest version. `synchronous = FULL`: what was answered survives a power cut. */
export function openMainDb(path: string): Db {
  const db = openDb(path)
  migrate(db, MAIN_MIGRATION)
  return db
}

let emptyMainDb: Buffer | undefined

/**
 * A new main database for what is thrown away again, so without syncs. The migrations run once in a process and in memory; each further
 * database begins as a copy of what they made.
 */
export function openScratchDb(path: string): Db {
  if (emptyMainDb === undefined) {
    const memory = new Database(':memory:')
    migrate(memory, MAIN_MIGRATION)
    emptyMainDb = memory.serialize()
    memory.close()
  }
  writeFileSync(path, emptyMainDb)
  const db = openDb(path)
  db.pragma('synchronous = OFF')
  return db
}

/**
 * The main database as it is, for a command beside a server that may be running: nothing is migrated under it. Throws where this program is
 * newer or older than the data.
 */
export function openMainDbAsIs(path: string): Db {
  const db = openDb(path)
  const landed = landedIn(db)
  const missing = migrationsOf(MAIN_MIGRATION).find((name) => !landed.has(name))
  if (missing !== undefined) {
    db.close()
    throw new Error(`this data is older than the program (${missing} is missing); start the server once, then try again`)
  }
  refuseNewer(db, MAIN_MIGRATION)
  return db
}

/** A database that may be of an older program, to be looked at or put right before anything opens it. Throws where it is of a newer one. */
export function openOlder(path: string): Db {
  const db = openDb(path)
  refuseNewer(db, /\.sql$/)
  return db
}

/** The volume database (occurrences and counters), which only the intake worker writes. */
export function openVolumeDb(path: string): Db {
  const db = openDb(path)
  // Bursts are long: a checkpoint every 32 MB instead of every 4.
  db.pragma('wal_autocheckpoint = 8000')
  migrate(db, VOLUME_MIGRATION)
  return db
}

/** A connection that cannot write, for readers of a database that someone else writes. */
export function openReadOnly(path: string): Db {
  const db = new Database(path, { readonly: true, timeout: 5000 })
  db.pragma('mmap_size = 268435456')
  return db
}

function openDb(path: string): Db {
  const db = new Database(path, { timeout: 5000 })
  db.pragma('journal_mode = WAL')
  db.pragma('synchronous = FULL')
  db.pragma('foreign_keys = ON')
  db.pragma('cache_size = -65536')
  return db
}

/**
 * Applies the migrations that are not in yet, each in a transaction of its own. Before the first of them the database is copied beside
 * itself (`before-NAME.db`), so that a step that went wrong can be taken back. Refuses a migration that was edited since it landed, and
 * data of a newer program.
 */
function migrate(db: Db, pattern: RegExp): void {
  db.exec('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, checksum TEXT NOT NULL) STRICT, WITHOUT ROWID')
  refuseNewer(db, pattern)
  const landed = landedIn(db)
  const ours = migrationsOf(pattern)
  const pending = ours.filter((name) => !landed.has(name))
  for (const name of ours) {
    const known = landed.get(name)
    if (known !== undefined && known !== textOf(name).checksum)
      throw new Error(`migration ${name} was edited after it landed; restore its text and add a new one`)
  }
  if (landed.size > 0 && pending[0] !== undefined) keepBefore(db, pending[0])
  for (const name of pending) {
    const { sql, checksum } = textOf(name)
    db.transaction(() => {
      db.exec(sql)
      db.prepare('INSERT INTO migration (name, checksum) VALUES (?, ?)').run(name, checksum)
    }).immediate()
  }
}

function migrationsOf(pattern: RegExp): string[] {
  return readdirSync(MIGRATIONS)
    .filter((file) => pattern.test(file))
    .sort()
}

function textOf(name: string): { sql: string; checksum: string } {
  const sql = readFileSync(join(MIGRATIONS, name), 'utf8')
  return { sql, checksum: createHash('sha256').update(sql).digest('hex') }
}

function landedIn(db: Db): Map<string, string> {
  return new Map(
    db
      .prepare<[], { name: string; checksum: string }>('SELECT name, checksum FROM migration')
      .all()
      .map((row) => [row.name, row.checksum]),
  )
}

/** An older program must not write what it does not understand. */
function refuseNewer(db: Db, pattern: RegExp): void {
  const ours = new Set(migrationsOf(pattern))
  const foreign = [...landedIn(db).keys()].find((name) => !ours.has(name))
  if (foreign === undefined) return
  db.close()
  throw new Error(`this data was written by a newer version of Dystracer (${foreign}); start that one`)
}

function keepBefore(db: Db, migration: string): void {
  if (db.memory) return
  const copy = join(dirname(db.name), `before-${migration.replace(/\.sql$/, '')}.db`)
  rmSync(copy, { force: true })
  db.prepare('VACUUM INTO ?').run(copy)
}
