import { firstLine } from '@dystracer/core/text/first-line'
import { Problem } from '@dystracer/core/basics/problem'
import { compareTips } from '@dystracer/core/code/compare-tips'
import type { Who } from '@dystracer/core/people/who'
import type { ItemSummary } from '@dystracer/core/records/wire'
import type { ReleaseContents } from '@dystracer/core/releases/contents-wire'
import { lockChanges } from '@dystracer/core/dependencies/lock-changes'
import { releaseFiles } from '@dystracer/core/releases/release-files'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { getCommit, graphOf } from '#subjects/code/index'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import { runningIn } from '#subjects/places/index'
import { listItemsByKeys, onlyVisible, requirementsOfItems } from '#subjects/records/index'
import { GET_RELEASE_OF_SERVICE, LIST_AUTHOR_OF_COMMITS, LIST_ITEM_OF_COMMITS } from './contents.queries.js'
import { type NamedRelease, releaseBefore } from './release-order.js'
import { type ReleaseRow, requireRelease } from './releases.views.js'

/** So many commits are listed; the rest is counted. */
const COMMITS_SHOWN = 200
type As = ReleaseContents['commits'][number]['as']

/**
 * What a release holds against another of its service, against what runs in an environment, or against the
 * release that it builds on: by the graph, with cherry-picks and reverts counted. Items that the asker may
 * not see are left out. Throws `not-found`, and `invalid-input` for an
 * `against` that is nothing.
 */
export async function readReleaseContents(ctx: ServiceContext, who: Who, text: string, against?: string): Promise<ReleaseContents> {
  const row = requireRelease(ctx, text)
  const other = againstOf(ctx, row, against)
  return {
    ...holdAgainst(ctx, who, { ...row, release: row.name }, other),
    ...(await changedBetween(ctx, row.repository, other?.sha ?? null, row.sha)),
  }
}

/** What a commit holds against another, as a release of its service, without the files: those take git. */
export function holdAgainst(
  ctx: ServiceContext,
  who: Who,
  { service, release, repository, sha }: { service: string; release: string; repository: string; sha: string },
  other: (NamedRelease & { runsIn: string | null }) | null,
  { shownMax = COMMITS_SHOWN, isNewestFirst = false }: { shownMax?: number; isNewestFirst?: boolean } = {},
): Omit<ReleaseContents, 'files' | 'dependencies'> {
  const difference = compareTips(graphOf(ctx, repository), sha, other?.sha ?? null)
  const itemsBy = itemsOfCommits(ctx, repository, [...difference.added, ...difference.removed, ...difference.again, ...difference.undone])
  const keysOf = (shas: readonly string[], kind?: string) =>
    new Set(shas.flatMap((one) => (itemsBy.get(one) ?? []).filter((tie) => kind === undefined || tie.kind === kind).map((tie) => tie.key)))
  const held = keysOf(difference.added)
  const lost = [...keysOf(difference.removed, 'fixes')].filter((key) => !held.has(key))
  const all = onlyVisible(ctx.db, who, listItemsByKeys(ctx.db, [...keysOf([...itemsBy.keys()])]))
  const visible = new Map(withRequirements(ctx, all).map((item) => [item.key, item]))
  const shown = (keys: Iterable<string>) => [...keys].flatMap((key) => visible.get(key) ?? [])
  const items = shown(held)
  const told = (['added', 'removed', 'undone', 'again'] as const satisfies readonly As[]).flatMap((as) =>
    (isNewestFirst ? difference[as].toReversed() : difference[as]).map((sha) => ({ sha, as })),
  )
  return {
    service,
    release,
    against: other && { release: other.name, runsIn: other.runsIn },
    items,
    lost: shown(lost),
    requirements: [...new Set(items.flatMap((item) => item.requirements))].sort(),
    counts: {
      added: difference.added.length,
      removed: difference.removed.length,
      again: difference.again.length,
      undone: difference.undone.length,
      merges: difference.merges,
      forNothing: difference.added.filter((one) => !itemsBy.has(one)).length,
    },
    commits: listCommits(ctx, repository, told.slice(0, shownMax), (one) => shown(keysOf([one])).map((item) => item.key)),
    more: Math.max(0, told.length - shownMax),
    authors: sql(ctx.db, LIST_AUTHOR_OF_COMMITS).all<{ name: string; commits: number }>({
      repository,
      shas: JSON.stringify(difference.added),
    }),
  }
}

function againstOf(ctx: ServiceContext, row: ReleaseRow, against: string | undefined): (NamedRelease & { runsIn: string | null }) | null {
  if (against === undefined || against === '') {
    const before = releaseBefore(ctx, row)
    return before && { ...before, runsIn: null }
  }
  const { service } = row
  const named = sql(ctx.db, GET_RELEASE_OF_SERVICE).get<NamedRelease>({ service, name: against.replace(/^v(?=\d)/, '') })
  if (named) return { ...named, runsIn: null }
  const running = runningIn(ctx, service, against)
  if (running) return { ...running, runsIn: against }
  throw new Problem('invalid-input', {
    fields: { against: `${service} has no release ${against}, and nothing of it runs in an environment of that name` },
  })
}

interface Tie {
  key: string
  kind: string
}

/** Which items each commit is tied to; commits without any are not in it. */
function itemsOfCommits(ctx: ServiceContext, repository: string, shas: readonly string[]): Map<string, Tie[]> {
  const ids = JSON.stringify([...new Set(shas)].map((sha) => `${repository}/${sha}`))
  const ties = new Map<string, Tie[]>()
  for (const { key, commitId, kind } of sql(ctx.db, LIST_ITEM_OF_COMMITS).all<Tie & { commitId: string }>({ ids })) {
    const sha = commitId.slice(repository.length + 1)
    const known = ties.get(sha)
    if (known) known.push({ key, kind })
    else ties.set(sha, [{ key, kind }])
  }
  return ties
}

function withRequirements(ctx: ServiceContext, items: ItemSummary[]): ReleaseContents['items'] {
  const requirements = requirementsOfItems(
    ctx.db,
    items.map((item) => item.key),
  )
  return items.map((item) => ({ ...item, requirements: requirements.get(item.key) ?? [] }))
}

function listCommits(
  ctx: ServiceContext,
  repository: string,
  told: readonly { sha: string; as: As }[],
  itemsOf: (sha: string) => string[],
): ReleaseContents['commits'] {
  return told.flatMap(({ sha, as }): ReleaseContents['commits'] => {
    const commit = getCommit(ctx.db, repository, sha)
    if (!commit) return []
    const subject = firstLine(commit.message)
    return [{ sha, subject, author: commit.author_name, atMs: commit.committed_at_ms, items: itemsOf(sha), as }]
  })
}

/** Which files and dependencies differ; nothing where there is nothing to hold it against, or git cannot tell. */
async function changedBetween(
  ctx: ServiceContext,
  repository: string,
  from: string | null,
  to: string,
): Promise<Pick<ReleaseContents, 'files' | 'dependencies'>> {
  if (from === null) return { files: releaseFiles([]), dependencies: [] }
  try {
    const { paths, locks } = await gitWorker(ctx).call('changedFiles', { dir: mirrorDir(ctx, repository), from, to })
    return { files: releaseFiles(paths), dependencies: locks.flatMap(({ path, before, after }) => lockChanges(path, before, after)) }
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return { files: releaseFiles([]), dependencies: [] }
    throw error
  }
}
