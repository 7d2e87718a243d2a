import type { FaultCauses } from '@dystracer/core/faults/causes-wire'
import type { FaultFrames, FaultItemProposal } from '@dystracer/core/faults/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { suspectsBetween } from '#subjects/code/index'
import { likenessWorker } from '#subjects/likeness/index'
import { requirementsOfItems } from '#subjects/records/index'
import { releaseBefore } from '#subjects/releases/index'
import { GET_LAST_DEPLOYMENT, LIST_STANDING_REQUIREMENT } from './causes.queries.js'
import { GET_FIRST_RELEASE } from './faults.queries.js'
import { readFaultFrames, requireFault } from './faults.views.js'
import { repositoryOf } from './trace-reading.js'
import { GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE } from './trace-reading.queries.js'

/**
 * Who may have brought a fault in: the commits between the release before the first that has it and that one, ranked by what git knows of
 * its frames (`core/code/suspects.ts`), which is not asked for again where it is given. Where that cannot be known it says why. Throws
 * `not-found`.
 */
export async function readFaultCauses(ctx: ServiceContext, who: Who, fault: string, blamed?: FaultFrames): Promise<FaultCauses> {
  const { row } = requireFault(ctx, fault)
  const { service } = row
  const repository = repositoryOf(ctx, service)
  const seen = sql(ctx.volume, GET_FIRST_RELEASE).get<{ release: string; environment: string; atMs: number }>({
    fingerprint: row.fingerprint,
  })
  const none = { repository, lastGood: null, firstBad: null, cameWith: null, suspects: [] }
  if (repository === null) return { ...none, gap: 'no-repository' }
  if (!seen) return { ...none, gap: 'no-release' }
  const { release } = seen
  const firstBad = sql(ctx.db, GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE).get<{ sha: string }>({ service, release })
  if (!firstBad) return { ...none, gap: 'unknown-release' }
  const known = {
    ...none,
    firstBad: { release, sha: firstBad.sha },
    cameWith: sql(ctx.db, GET_LAST_DEPLOYMENT).get<NonNullable<FaultCauses['cameWith']>>({ service, ...seen }) ?? null,
  }
  const before = releaseBefore(ctx, { repository, service, name: release, sha: firstBad.sha })
  const lastGood = before && { release: before.name, sha: before.sha }
  if (!lastGood) return { ...known, gap: 'first-release' }
  const { frames } = blamed ?? (await readFaultFrames(ctx, who, fault))
  const own = frames.flatMap(({ path, line, function: name }) => (path === null || line === null ? [] : [{ path, line, function: name }]))
  const suspects = await suspectsBetween(ctx, who, repository, {
    lastGood: lastGood.sha,
    firstBad: firstBad.sha,
    message: `${row.type}: ${row.message}`,
    names: [],
    frames: own,
  })
  const gap = suspects === null ? 'no-git' : suspects.length === 0 ? 'no-commits' : null
  return { ...known, lastGood, suspects: suspects ?? [], gap }
}

/** So many words have to be shared before words alone speak for a requirement. */
const WORDS_MIN = 2

/**
 * The requirement that a fault probably breaks: what asked for the line that failed, else for the change that likely brought it in, else
 * one that says the same in words. Null where nothing speaks for one.
 */
export async function likelyRequirement(
  ctx: ServiceContext,
  who: Who,
  fault: string,
  { project, title, description, component }: Pick<FaultItemProposal, 'project' | 'title' | 'description' | 'component'>,
): Promise<FaultItemProposal['requirement']> {
  const standing = (keys: readonly string[]) =>
    sql(ctx.db, LIST_STANDING_REQUIREMENT).all<{ key: string }>({ project, keys: JSON.stringify(keys) })[0]?.key
  const blamed = await readFaultFrames(ctx, who, fault)
  const failed = blamed.frames.find(({ isApp, blame }) => isApp && blame !== null)?.blame
  for (const item of failed?.items ?? []) {
    const key = standing(requirementsOfItems(ctx.db, [item]).get(item) ?? [])
    if (key !== undefined) return { key, why: `the line that failed was written for ${item}, which it asked for` }
  }
  const { suspects } = await readFaultCauses(ctx, who, fault, blamed)
  const [first] = suspects
  const key = first && standing(first.requirements)
  if (first && key !== undefined) return { key, why: `${first.sha.slice(0, 7)}, which likely brought it in, was made for it` }
  const [hit] = await likenessWorker(ctx).call('findRequirements', {
    report: { id: '', title, text: description.slice(0, 4000), scope: project, component },
    limit: 1,
  })
  const like = hit && hit.sharedWords.length >= WORDS_MIN ? standing([hit.id]) : undefined
  return hit && like !== undefined ? { key: like, why: `it says “${hit.sharedWords.slice(0, 3).join('”, “')}”, too` } : null
}
