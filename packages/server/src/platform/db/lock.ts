import { join } from 'node:path'
import Database from 'better-sqlite3'

/**
 * Holds a data folder for this process alone, until the given function is called or the process ends in whatever way: the lock is the
 * operating system's, on a file of its own that SQLite keeps locked. Throws where another process holds it.
 */
export function lockFolder(dataDir: string): () => void {
  const db = new Database(join(dataDir, 'lock.db'), { timeout: 0 })
  try {
    db.exec('BEGIN EXCLUSIVE')
  } catch (error) {
    db.close()
    if ((error as { code?: string }).code === 'SQLITE_BUSY')
      throw new Error(`another Dystracer works on ${dataDir}; stop that one first, or name another folder with --data`, { cause: error })
    throw error
  }
  return () => db.close()
}
