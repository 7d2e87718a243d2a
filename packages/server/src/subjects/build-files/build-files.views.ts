import { createReadStream, existsSync, type ReadStream } from 'node:fs'
import type { BuildFile } from '@dystracer/core/build-files/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { blobPath } from '#subjects/talk/index'
import { GET_FILE, LIST_FILES, type BuildFileRow } from './build-files.queries.js'

/** The files of a build by name. */
export function listBuildFiles(ctx: ServiceContext, of: { repository: string; build: number }): BuildFile[] {
  return sql(ctx.db, LIST_FILES).all<BuildFileRow>(of)
}

/** A file that is kept here. Throws `not-found`. */
export function openBuildFile(
  ctx: ServiceContext,
  of: { repository: string; build: number; fileId: string },
): { name: string; sizeBytes: number; stream: ReadStream } {
  const row = sql(ctx.db, GET_FILE).get<BuildFileRow>(of)
  if (!row) throw new Problem('not-found', { detail: 'This build has no such file; files are kept as long as logs.' })
  const path = row.sha256 !== null && row.url === null ? blobPath(ctx.config.dataDir, row.sha256) : null
  if (path === null || !existsSync(path)) throw new Problem('not-found', { detail: 'This file is not kept here.' })
  return { name: row.name.slice(row.name.lastIndexOf('/') + 1), sizeBytes: row.sizeBytes ?? 0, stream: createReadStream(path) }
}
