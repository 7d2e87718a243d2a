import { firstLine } from '@dystracer/core/text/first-line'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { NextRelease } from '@dystracer/core/releases/contents-wire'
import { candidateOf, nextNames, nextOnLine, preparedBy } from '@dystracer/core/releases/next-names'
import type { Release } from '@dystracer/core/releases/wire'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { accessOf, getCommit, graphOf, mainTip, newestBuildState } from '#subjects/code/index'
import { fetchUrl, type GitAccess, gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { itemsOfRepository } from '#subjects/records/index'
import { GET_SERVICE, LIST_LONG_LINES, LIST_RELEASE_OF_SERVICE } from './contents.queries.js'
import { holdAgainst } from './contents.views.js'
import { type NamedRelease, releaseBefore } from './release-order.js'
import { readRelease } from './releases.views.js'

/** The code of a service: its repository, how its tags begin, where it lies. */
interface ServiceRow {
  repository: string
  tag_prefix: string
  url: string
}

/** Throws `not-found`. */
export function requireServiceCode(ctx: ServiceContext, service: string): ServiceRow {
  const row = sql(ctx.db, GET_SERVICE).get<ServiceRow>({ service })
  if (!row) throw new Problem('not-found', { detail: `There is no service ${service} whose code is connected.` })
  return row
}

/** What the releases of a service are called. */
export function releaseNamesOf(ctx: Pick<ServiceContext, 'db'>, service: string): string[] {
  return sql(ctx.db, LIST_RELEASE_OF_SERVICE)
    .all<NamedRelease>({ service })
    .map(({ name }) => name)
}

/** Throws `conflict` for a name that a release of the service has. */
export function requireFreeName(ctx: Pick<ServiceContext, 'db'>, service: string, name: string): void {
  if (releaseNamesOf(ctx, service).includes(name)) throw new Problem('conflict', { detail: `${service} has a release ${name} already.` })
}

/** So many commits of the main line are offered to be tagged. */
const COMMITS_OFFERED = 30

/**
 * What would be in the next release of a service, made now of its main line or of another commit, what would be left out, and what speaks
 * against it. Throws `not-found`, `invalid-input` for a commit that is not known.
 */
export function readNextRelease(ctx: ServiceContext, who: Who, service: string, of?: string): NextRelease {
  const { repository, tag_prefix: tagPrefix } = requireServiceCode(ctx, service)
  const releases = sql(ctx.db, LIST_RELEASE_OF_SERVICE).all<NamedRelease>({ service })
  const { latest, names } = nextNames(
    releases.map((release) => release.name),
    new Date(ctx.nowMs()).toISOString().slice(0, 10),
  )
  const main = mainTip(ctx.db, repository)
  const sha = of ?? main
  const tip = sha ? taggable(ctx, repository, sha) : null
  if (of !== undefined && tip === null) throw new Problem('invalid-input', { fields: { of: `${repository} has no such commit here` } })
  const taken = releases.map((release) => release.name)
  const isMain = sha === main
  const here = releases.findLast((release) => release.sha === sha)
  const nearest = sha && !isMain ? (here ?? releaseBefore(ctx, { repository, service, name: '', sha })) : null
  const proposed = isMain ? names : [nearest && nextOnLine(nearest.name, taken), ...names].filter((name) => name !== null)
  const known = {
    service,
    repository,
    tagPrefix,
    latest: isMain ? latest : (nearest?.name ?? null),
    names: [...new Set(proposed)],
    candidates: [...new Set(proposed)].map((name) => candidateOf(preparedBy(name) ?? name, taken)),
    choices: choicesOf(ctx, repository, main),
  }
  if (!sha || !tip) return { ...known, tip: null, items: [], leftOut: [], commits: 0, doubts: [] }
  const before = isMain ? (releases.find((release) => release.name === latest) ?? null) : nearest
  const { items, counts } = holdAgainst(ctx, who, { service, release: '', repository, sha }, before && { ...before, runsIn: null })
  const beyond = main !== null && !isMain ? holdAgainst(ctx, who, { service, release: '', repository, sha: main }, beyondOf(sha)).items : []
  const build = newestBuildState(ctx.db, repository, sha)
  return {
    ...known,
    tip: known.choices.find((choice) => choice.sha === sha) ?? tip,
    items,
    leftOut: beyond,
    commits: counts.added,
    doubts: [
      ...(build === 'broke' ? [{ key: null, why: 'broken-build' as const }] : []),
      ...(build === null ? [{ key: null, why: 'no-build' as const }] : []),
      ...items.flatMap(({ key, isBlocked, stair, hasComeBack, requirements }): NextRelease['doubts'] => [
        ...(isBlocked ? [{ key, why: 'blocked' as const }] : []),
        ...(stair.includes('x') || hasComeBack ? [{ key, why: 'contradicted' as const }] : []),
        ...(requirements.length === 0 ? [{ key, why: 'without-requirement' as const }] : []),
      ]),
    ],
  }
}

/** A commit as what is held against, where no release stands there. */
function beyondOf(sha: string): NamedRelease & { runsIn: null } {
  return { name: '', sha, runsIn: null }
}

/** A commit as what a release can be made of; null where it is not known here. */
function taggable(ctx: ServiceContext, repository: string, sha: string, branch: string | null = null): NextRelease['tip'] {
  const commit = getCommit(ctx.db, repository, sha)
  return commit ? { sha, subject: firstLine(commit.message), atMs: commit.committed_at_ms, branch } : null
}

/** The tips of the main line and of long-lived ones, then the main line's own commits, the newest first. */
function choicesOf(ctx: ServiceContext, repository: string, main: string | null): NextRelease['choices'] {
  const lines = sql(ctx.db, LIST_LONG_LINES).all<{ branch: string; sha: string }>({ repository })
  const tips = lines.flatMap(({ branch, sha }) => taggable(ctx, repository, sha, branch) ?? [])
  const further: NextRelease['choices'] = []
  const graph = graphOf(ctx, repository)
  let sha = main === null ? undefined : graph.get(main)?.parents[0]
  for (; sha !== undefined && further.length < COMMITS_OFFERED; sha = graph.get(sha)?.parents[0])
    further.push(...([taggable(ctx, repository, sha)].filter((one) => one !== null) satisfies NextRelease['choices']))
  return [...tips, ...further.filter((one) => !tips.some((tip) => tip.sha === one.sha))]
}

/**
 * Makes a release: pushes its tag to where the code lies, and knows it at once. Throws `conflict` for a name
 * that is taken, `invalid-input` for a commit that is not known, `outside-unreachable` where the remote does
 * not take it.
 */
export async function makeRelease(ctx: ServiceContext, who: Who, service: string, input: { name: string; sha: string }): Promise<Release> {
  const { repository, tag_prefix: tagPrefix, url } = requireServiceCode(ctx, service)
  const { name, sha } = input
  const tag = `${tagPrefix}${name}`
  requireFreeName(ctx, service, name)
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
