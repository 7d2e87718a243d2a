import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import {
  DELETE_RELEASE_LOCKS,
  GET_FOLDER_OF_SERVICE,
  HAS_READ_LOCKS,
  INSERT_LOCK_FILE,
  INSERT_LOCK_PACKAGES,
  INSERT_LOCKS_READ,
  INSERT_RELEASE_LOCK,
  LIST_KNOWN_LOCKS,
} from './dependencies.queries.js'

/** A release as far as its lock files are concerned. */
export interface LockedRelease {
  service: string
  name: string
  sha: string
  at_ms: number
  repository: string
}

/**
 * Reads the lock files of a release, unless they were read of the same commit before: those in the folder of its service, and those in the
 * folders above, which hold for it as well. A file is read once however many releases have it. Where git cannot tell (a commit that is
 * gone), it is noted that it was tried: a later question tries again, after those that nobody asked about yet.
 */
export async function readLocks(ctx: ServiceContext, { service, name: release, sha, repository }: LockedRelease): Promise<void> {
  const { db } = ctx
  if (sql(db, HAS_READ_LOCKS).get({ service, release, sha })) return
  const dir = mirrorDir(ctx, repository)
  const folder = sql(db, GET_FOLDER_OF_SERVICE).get<{ folder: string }>({ service })?.folder ?? ''
  try {
    const files = (await gitWorker(ctx).call('lockFiles', { dir, sha })).filter(({ path }) => holdsFor(folder, path))
    const known = new Set(
      sql(db, LIST_KNOWN_LOCKS)
        .all<{ lock: string }>({ locks: JSON.stringify(files.map(({ lock }) => lock)) })
        .map(({ lock }) => lock),
    )
    const read = await gitWorker(ctx).call('readLocks', { dir, files: files.filter(({ lock }) => !known.has(lock)) })
    db.transaction(() => {
      for (const { lock, packages } of read) {
        sql(db, INSERT_LOCK_FILE).run({ lock, isReadable: Number(packages !== null) })
        if (packages) sql(db, INSERT_LOCK_PACKAGES).run({ lock, packages: JSON.stringify(packages) })
      }
      sql(db, DELETE_RELEASE_LOCKS).run({ service, release })
      for (const { path, lock } of files) sql(db, INSERT_RELEASE_LOCK).run({ service, release, path, lock })
      sql(db, INSERT_LOCKS_READ).run({ service, release, sha })
    })()
  } catch (error) {
    if (!(error instanceof Error && isGitTrouble(error))) throw error
    sql(db, INSERT_LOCKS_READ).run({ service, release, sha: '' })
  }
}

/** Whether a lock file is of a service: it lies in its folder or in one above. */
function holdsFor(folder: string, path: string): boolean {
  const own = folder === '' ? '' : `${folder.replace(/\/$/, '')}/`
  const around = path.slice(0, path.lastIndexOf('/') + 1)
  return around.startsWith(own) || own.startsWith(around)
}
