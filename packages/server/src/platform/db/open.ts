import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'

export type Db = Database.Database
const MIGRATIONS = join(import.meta.dirname, '../../../src/platform/db/migrations')

/** The main database, migrated to the newest version. `synchronous = FULL`: what was answered survives a power cut. */
export function openMainDb(path: string): Db {
  const db = openDb(path)
  migrate(db, /^\d{4}-.*\.sql$/)
  return db
}

/** The volume database (occurrences and counters), which only the intake worker writes. */
export function openVolumeDb(path: string): Db {
  const db = openDb(path)
  // Bursts are long: a checkpoint every 32 MB instead of every 4.
  db.pragma('wal_autocheckpoint = 8000')
  migrate(db, /^volume-\d{4}-.*\.sql$/)
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

/** Applies the migrations that are not in yet, each in a transaction of its own; refuses when one that landed was edited since. */
function migrate(db: Db, pattern: RegExp): void {
  db.exec('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, checksum TEXT NOT NULL) STRICT, WITHOUT ROWID')
  const landed = new Map(
    db
      .prepare<[], { name: string; checksum: string }>('SELECT name, checksum FROM migration')
      .all()
      .map((row) => [row.name, row.checksum]),
  )
  for (const name of readdirSync(MIGRATIONS)
    .filter((file) => pattern.test(file))
    .sort()) {
    const sql = readFileSync(join(MIGRATIONS, name), 'utf8')
    const checksum = createHash('sha256').update(sql).digest('hex')
    const known = landed.get(name)
    if (known === checksum) continue
    if (known) throw new Error(`migration ${name} was edited after it landed; restore its text and add a new one`)
    db.transaction(() => {
      db.exec(sql)
      db.prepare('INSERT INTO migration (name, checksum) VALUES (?, ?)').run(name, checksum)
    }).immediate()
  }
}
