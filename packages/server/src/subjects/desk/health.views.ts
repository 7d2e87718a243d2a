import type { Health } from '@dystracer/core/desk/health-wire'
import { statSync } from 'node:fs'
import { join } from 'node:path'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { readLast } from '#platform/files/last-backup'
import { roomLeft } from '#platform/files/room'
import { headOf } from '#platform/journal/chain'
import { GET_LAST_HEARD, GET_LAST_OCCURRENCE, LIST_REPOSITORIES_IN_TROUBLE } from './health.queries.js'

const FILES = ['dystracer.db', 'dystracer.db-wal', 'occurrences.db', 'occurrences.db-wal']

/** How the installation stands, for whoever keeps it. */
export function readHealth(ctx: ServiceContext): Health {
  const { db, volume, config, threads } = ctx
  const heard = sql(db, GET_LAST_HEARD).get<Record<'push' | 'fetch' | 'build' | 'deployment', number | null> & { refusals: number }>({})
  const backup = readLast(config.dataDir)
  const { seq: entries, chain } = headOf(db)
  return {
    last: {
      push: heard?.push ?? null,
      fetch: heard?.fetch ?? null,
      build: heard?.build ?? null,
      deployment: heard?.deployment ?? null,
      occurrence: sql(volume, GET_LAST_OCCURRENCE).get<{ atMs: number | null }>({})?.atMs ?? null,
      backup: backup?.atMs ?? null,
      rehearsal: backup?.rehearsedAtMs ?? null,
    },
    repositoriesInTrouble: sql(db, LIST_REPOSITORIES_IN_TROUBLE)
      .all<{ repository: string }>({})
      .map((row) => row.repository),
    mail: { isSetUp: config.smtpUrl !== null, refusals: heard?.refusals ?? 0 },
    threads: threads.list(),
    files: FILES.map((name) => ({ name, sizeBytes: statSync(join(config.dataDir, name), { throwIfNoEntry: false })?.size ?? 0 })),
    disk: roomLeft(config),
    journal: { entries, chain },
  }
}
