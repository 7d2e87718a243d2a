import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { holdsJust } from '#platform/files/durable'
import type { ServiceContext } from '#platform/context'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import { LIST_BLOB_OF_ATTACHMENT } from './blobs.queries.js'

const DAY_MS = 86_400_000
/** An upload that was stored and not yet told of is left alone for so long. */
const GRACE_MS = DAY_MS

/** Where a file lies, by what it holds: once, however often it was attached. */
export function blobPath(dataDir: string, sha256: string, kind: 'file' | 'thumbnail' = 'file'): string {
  return join(dataDir, 'blobs', sha256.slice(0, 2), kind === 'file' ? sha256 : `${sha256}.webp`)
}

interface BlobRow {
  sha256: string
  sizeBytes: number
  name: string
  key: string
}

/** Attached files that are not there, or do not hold what was attached; a sentence each. Reads every file. */
export async function findBrokenBlobs(db: Db, dataDir: string): Promise<string[]> {
  const broken: string[] = []
  for (const { sha256, sizeBytes, name, key } of sql(db, LIST_BLOB_OF_ATTACHMENT).all<BlobRow>({}))
    if (!(await holdsJust(blobPath(dataDir, sha256), { sha256, sizeBytes })))
      broken.push(
        `${name} of ${key} is not there as it was attached; attach it again, or bring it from a backup ` +
          `(blobs/${sha256.slice(0, 2)}/${sha256})`,
      )
  return broken
}

/** Removes files that nothing stands for any more, and parts of uploads that broke off; how many went. */
export async function sweepBlobs(ctx: Pick<ServiceContext, 'db' | 'config' | 'nowMs'>): Promise<number> {
  const root = join(ctx.config.dataDir, 'blobs')
  const files = await readdir(root, { recursive: true, withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return []
    throw error
  })
  const attached = new Set(
    sql(ctx.db, LIST_BLOB_OF_ATTACHMENT)
      .all<BlobRow>({})
      .map((row) => row.sha256),
  )
  let gone = 0
  for (const file of files) {
    if (!file.isFile()) continue
    const path = join(file.parentPath, file.name)
    if (attached.has(file.name.replace(/\.webp$/, '')) || ctx.nowMs() - (await stat(path)).mtimeMs < GRACE_MS) continue
    await rm(path, { force: true })
    gone++
  }
  return gone
}

/** Sweeps once a day. */
export function startSweepingBlobs(ctx: ServiceContext): void {
  ctx.jobs.every({
    name: 'removing files that nothing stands for',
    everyMs: DAY_MS,
    run: async () => {
      await sweepBlobs(ctx)
    },
  })
}
