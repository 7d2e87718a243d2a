import { createHash } from 'node:crypto'
import { mkdir, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { BuildFile, buildFilesPaths } from '@dystracer/core/build-files/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { holdsJust, placeDurably } from '#platform/files/durable'
import { ensureBuild, requireRepository } from '#subjects/builds/index'
import { blobPath } from '#subjects/talk/index'
import { COUNT_FILES, DELETE_OLD_FILES, GET_FILE_BY_NAME, PUT_FILE, type BuildFileRow } from './build-files.queries.js'

const DAY_MS = 86_400_000
const FILES_OF_BUILD_MAX = 1000

/** A file of a build as it is sent. */
export type SentFile = z.output<NonNullable<typeof buildFilesPaths.takeBuildFile.query>>

/**
 * Keeps a file that a build left, by what it holds, or notes where it lies. Another of its name takes its place. A build
 * that nobody told of yet begins by it. Throws `not-found` for an unknown repository, `invalid-input` for neither file
 * nor address, `conflict` beyond a thousand files of one build.
 */
export async function takeBuildFile(ctx: ServiceContext, sent: SentFile, body: Buffer): Promise<BuildFile> {
  requireRepository(ctx, sent.repository)
  const { repository, name, url } = sent
  if (url === undefined && body.length === 0) throw new Problem('invalid-input', { fields: { file: 'The file is empty' } })
  if (url !== undefined && body.length > 0)
    throw new Problem('invalid-input', { fields: { url: 'Send the file, or the address where it lies, not both' } })
  const build = ensureBuild(ctx, { ...sent, sha: sent.commit, by: 'build-file' })
  const known = sql(ctx.db, GET_FILE_BY_NAME).get<BuildFileRow>({ repository, build, name })
  if (!known && (sql(ctx.db, COUNT_FILES).get<{ count: number }>({ repository, build })?.count ?? 0) >= FILES_OF_BUILD_MAX)
    throw new Problem('conflict', { detail: `This build has ${FILES_OF_BUILD_MAX} files already; put some into one archive.` })
  const held = url === undefined ? await keep(ctx, body) : { sha256: sent.sha256 ?? null, sizeBytes: sent.sizeBytes ?? null }
  const row = { fileId: known?.fileId ?? ctx.newId(), name, ...held, url: url ?? null, atMs: ctx.nowMs() }
  sql(ctx.db, PUT_FILE).run({ ...row, repository, build })
  return row
}

async function keep(ctx: ServiceContext, body: Buffer): Promise<{ sha256: string; sizeBytes: number }> {
  const held = { sha256: createHash('sha256').update(body).digest('hex'), sizeBytes: body.length }
  const target = blobPath(ctx.config.dataDir, held.sha256)
  await mkdir(join(target, '..'), { recursive: true })
  if (await holdsJust(target, held)) return held
  const part = join(ctx.config.dataDir, 'blobs', `part-${ctx.newId()}`)
  try {
    await writeFile(part, body)
    await placeDurably(part, target)
  } finally {
    await rm(part, { force: true })
  }
  return held
}

/** Forgets files whose time is over; what they held is swept with what nothing stands for. */
export function removeOldFiles(ctx: ServiceContext): void {
  sql(ctx.db, DELETE_OLD_FILES).run({ beforeMs: ctx.nowMs() - ctx.config.keepDays * DAY_MS })
}
