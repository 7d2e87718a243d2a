import type { BuildFindings } from '@dystracer/core/builds/wire'
import type { ServiceContext } from '#platform/context'
import { findingsAt } from '#subjects/findings/index'
import { membersOf, ownersOf } from '#subjects/reviews/index'
import { requireBuild } from './failures.views.js'

/** What analysers found at a build's commit, each with those who look after its file. Throws `not-found`. */
export async function readBuildFindings(ctx: ServiceContext, repository: string, number: number): Promise<BuildFindings> {
  const { sha } = requireBuild(ctx, repository, number)
  const found = findingsAt(ctx, repository, sha)
  const owners = found.fresh.length === 0 ? () => [] : await ownersOf(ctx, repository, membersOf(ctx, repository))
  const owned = (rows: typeof found.fresh) => rows.map((row) => ({ ...row, ownerIds: row.file === null ? [] : owners(row.file) }))
  return { ...found, fresh: owned(found.fresh), gone: owned(found.gone) }
}
