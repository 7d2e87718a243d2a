import type { Artefact } from '@dystracer/core/builds/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requireRelease } from '#subjects/releases/index'
import { LIST_ARTEFACT_OF_RELEASE } from './builds.queries.js'

/**
 * What a release was built into, as build services told: artefacts of its repository that bear its version, or whose package URL names its
 * commit. Throws `not-found`.
 */
export function listArtefacts(ctx: ServiceContext, text: string): { rows: Artefact[]; total: number } {
  const { repository, name, sha } = requireRelease(ctx, text)
  const rows = sql(ctx.db, LIST_ARTEFACT_OF_RELEASE).all<Omit<Artefact, 'sbomUrl'> & { sbom: string | null; total: number }>({
    repository,
    release: name,
    tag: `v${name}`,
    sha,
  })
  return {
    rows: rows.map(({ sbom, total: _, ...row }) => ({ ...row, sbomUrl: sbom !== null && /^https?:\/\//i.test(sbom) ? sbom : null })),
    total: rows[0]?.total ?? 0,
  }
}
