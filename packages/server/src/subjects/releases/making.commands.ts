import { firstLine } from '@dystracer/core/text/first-line'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { NextRelease } from '@dystracer/core/releases/contents-wire'
import { nextNames } from '@dystracer/core/releases/next-names'
import type { Release } from '@dystracer/core/releases/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { accessOf, getCommit, mainTip } from '#subjects/code/index'
import { fetchUrl, type GitAccess, gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { itemsOfRepository } from '#subjects/records/index'
import { GET_NEWEST_BUILD_OF_COMMIT, GET_SERVICE, LIST_RELEASE_OF_SERVICE } from './contents.queries.js'
import { holdAgainst } from './contents.views.js'
import type { NamedRelease } from './release-order.js'
import { readRelease } from './releases.views.js'

interface ServiceRow {
  repository: string
  tag_prefix: string
  url: string
}

function requireService(ctx: ServiceContext, service: string): ServiceRow {
  const row = sql(ctx.db, GET_SERVICE).get<ServiceRow>({ service })
  if (!row) throw new Problem('not-found', { detail: `There is no service ${service} whose code is connected.` })
  return row
}

/** What would be in the next release of a service, made now of its main line, and what speaks against it. Throws `not-found`. */
export function readNextRelease(ctx: ServiceContext, who: Who, service: string): NextRelease {
  const { repository, tag_prefix: tagPrefix } = requireService(ctx, service)
  const releases = sql(ctx.db, LIST_RELEASE_OF_SERVICE).all<NamedRelease>({ service })
  const { latest, names } = nextNames(
    releases.map((release) => release.name),
    new Date(ctx.nowMs()).toISOString().slice(0, 10),
  )
  const known = { service, repository, tagPrefix, latest, names }
  const sha = mainTip(ctx.db, repository)
  const tip = sha ? getCommit(ctx.db, repository, sha) : undefined
  if (!sha || !tip) return { ...known, tip: null, items: [], commits: 0, doubts: [] }
  const before = releases.find((release) => release.name === latest) ?? null
  const { items, counts } = holdAgainst(ctx, who, { service, release: '', repository, sha }, before && { ...before, runsIn: null })
  const build = sql(ctx.db, GET_NEWEST_BUILD_OF_COMMIT).get<{ state: string }>({ repository, sha })
  return {
    ...known,
    tip: { sha, subject: firstLine(tip.message), atMs: tip.committed_at_ms },
    items,
    commits: counts.added,
    doubts: [
      ...(build?.state === 'broke' ? [{ key: null, why: 'broken-build' as const }] : []),
      ...(build === undefined ? [{ key: null, why: 'no-build' as const }] : []),
      ...items.flatMap(({ key, isBlocked, stair, hasComeBack, requirements }): NextRelease['doubts'] => [
        ...(isBlocked ? [{ key, why: 'blocked' as const }] : []),
        ...(stair.includes('x') || hasComeBack ? [{ key, why: 'contradicted' as const }] : []),
        ...(requirements.length === 0 ? [{ key, why: 'without-requirement' as const }] : []),
      ]),
    ],
  }
}

/**
 * Makes a release: pushes its tag to where the code lies, and knows it at once. Throws `conflict` for a name
 * that is taken, `invalid-input` for a commit that is not known, `outside-unreachable` where the remote does
 * not take it.
 */
export async function makeRelease(ctx: ServiceContext, who: Who, service: string, input: { name: string; sha: string }): Promise<Release> {
  const { repository, tag_prefix: tagPrefix, url } = requireService(ctx, service)
  const { name, sha } = input
  const tag = `${tagPrefix}${name}`
  if (
    sql(ctx.db, LIST_RELEASE_OF_SERVICE)
      .all<NamedRelease>({ service })
      .some((release) => release.name === name)
  )
    throw new Problem('conflict', { detail: `${service} has a release ${name} already.` })
  if (!getCommit(ctx.db, repository, sha)) throw new Problem('invalid-input', { fields: { sha: `${repository} has no such commit here` } })
  const pushed = await push(ctx, { dir: mirrorDir(ctx, repository), url: fetchUrl(ctx, url), access: accessOf(ctx, repository), tag, sha })
  if (pushed.kind === 'moved') throw new Problem('conflict', { detail: `${repository} has a tag ${tag} already. Choose another name.` })
  if (pushed.kind === 'refused')
    throw new Problem('outside-unreachable', { detail: `The remote did not take ${tag}: ${pushed.why}. Nothing was changed.` })
  ctx.journal.write((writer) => {
    const entry = writer.append({
      kind: 'release-found',
      actor: who.actor,
      subjects: [`release:${service}@${name}`, `repository:${repository}`],
      cause: `made as ${tag}`,
      // The same as when the tag is read: whichever comes first tells it.
      idempotencyKey: `release/${service}/${name}/${sha}`,
      body: { service, name, tag, sha, isRewritten: false },
    })
    if (entry) writer.touch(itemsOfRepository(ctx, repository))
  })
  return readRelease(ctx, who, `${service}@${name}`)
}

async function push(ctx: ServiceContext, input: { dir: string; url: string; access: GitAccess | null; tag: string; sha: string }) {
  try {
    return await gitWorker(ctx).call('pushTag', input)
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error))
      throw new Problem('outside-unreachable', { detail: `git could not do it: ${error.message}. Nothing was changed.`, cause: error })
    throw error
  }
}
