import type { FoundFile } from '@dystracer/core/build-files/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { hiddenRepositories } from '#subjects/records/index'
import { placesOf, requireRelease } from '#subjects/releases/index'
import { LIST_FILES_BY_SHA256, LIST_FILES_OF_COMMIT, LIST_RELEASES_OF_COMMIT, type FoundFileRow } from './build-files.queries.js'

/** Which builds left a file that holds this, as far as the asker may read their repositories. */
export function findBuildFiles(ctx: ServiceContext, who: Who, sha256: string): FoundFile[] {
  return sql(ctx.db, LIST_FILES_BY_SHA256)
    .all<FoundFileRow>({ sha256, hidden: hiddenRepositories(ctx.db, who) })
    .map((row) => withReleases(ctx, row))
}

/** The files of a release: what builds of its commit left; of one name the newest. Throws `not-found`. */
export function listReleaseFiles(ctx: ServiceContext, text: string): FoundFile[] {
  const { repository, sha } = requireRelease(ctx, text)
  const byName = new Map<string, FoundFileRow>()
  for (const row of sql(ctx.db, LIST_FILES_OF_COMMIT).all<FoundFileRow>({ repository, sha }))
    if (!byName.has(row.name)) byName.set(row.name, row)
  return [...byName.values()].map((row) => withReleases(ctx, row))
}

function withReleases(ctx: ServiceContext, row: FoundFileRow): FoundFile {
  const releases = sql(ctx.db, LIST_RELEASES_OF_COMMIT).all<{ service: string; name: string }>(row)
  return { ...row, releases: releases.map((one) => ({ ...one, runsIn: placesOf(ctx, one.service, one.name) })) }
}
