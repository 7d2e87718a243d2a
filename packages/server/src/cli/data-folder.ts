import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { makeConfig, type CommandOptions } from '#platform/config/config'
import { readEnv } from '#platform/config/env'
import { openReadOnly } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { findBrokenLink, headOf, type Head } from '#platform/journal/chain'
import { findBrokenAudit } from '#subjects/audit/index'
import { findBrokenBlobs } from '#subjects/talk/blobs'
import { verifyTables } from '#verify-tables'

/** The data folder that a command means: the one named, else the real one if it is there, else the demo's. */
function dataDirOf(options: CommandOptions): string {
  const env = readEnv(options.config)
  const named = options.data ?? env.DYSTRACER_DATA
  if (named) return resolve(named)
  const real = makeConfig('real', env).dataDir
  const dir = existsSync(join(real, 'dystracer.db')) ? real : makeConfig('demo', env).dataDir
  return dir
}

/** The same, where there has to be data; throws with how to name the folder. */
export function requireData(options: CommandOptions): string {
  const dir = dataDirOf(options)
  if (!existsSync(join(dir, 'dystracer.db'))) throw new Error(`there is no data in ${dir}; name the folder with --data`)
  return dir
}

/**
 * What is wrong in a data folder, a line each; none when SQLite finds both databases sound, the chains of
 * the journal and the audit trail hold, tables and journal agree, and every attached file is as it was
 * attached. `kept` is a head that somebody kept elsewhere. `count` is how many entries the journal has.
 */
export async function findTroubles(dataDir: string, kept: Head | null = null): Promise<{ count: number; head: Head; troubles: string[] }> {
  const db = openReadOnly(join(dataDir, 'dystracer.db'))
  const volume = openReadOnly(join(dataDir, 'occurrences.db'))
  try {
    const broken = [db, volume]
      .flatMap((file) => (file.pragma('integrity_check') as { integrity_check: string }[]).map((row) => row.integrity_check))
      .filter((line) => line !== 'ok')
    const differences = verifyTables({ db, dataDir }).map(
      ({ table, onlyHere, onlyRebuilt, example }) =>
        `${table}: ${onlyHere} rows only in the table, ${onlyRebuilt} only in the journal, such as ${example}`,
    )
    const brokenLink = findBrokenLink(db, kept)
    const chain = brokenLink === null ? [] : [`journal: ${brokenLink}`]
    const brokenLine = findBrokenAudit(db)
    const trail = brokenLine === null ? [] : [`audit trail: ${brokenLine}`]
    const blobs = await findBrokenBlobs(db, dataDir)
    const count = sql(db, 'SELECT count(*) AS count FROM journal').get<{ count: number }>({})?.count ?? 0
    return {
      count,
      head: headOf(db),
      troubles: [
        ...broken.map((line) => `file: ${line}`),
        ...chain,
        ...trail,
        ...differences,
        ...blobs.map((line) => `attachment: ${line}`),
      ],
    }
  } finally {
    db.close()
    volume.close()
  }
}
