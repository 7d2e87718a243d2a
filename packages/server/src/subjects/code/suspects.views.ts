import { firstLine } from '@dystracer/core/text/first-line'
import type { SuspectRow } from '@dystracer/core/code/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { requirementsOfItems, visibleItemsTiedTo } from '#subjects/records/index'
import { LIST_MERGED_BY_SHAS } from './code.queries.js'
import { commitsOfPullRequest, getCommit, graphOf, type PullRequestRow } from './commit-facts.js'
import { gitWorker, isGitTrouble, mirrorDir } from '#subjects/git/index'
import type { FailureBetween } from '#subjects/git/index'

const SHOWN = 4

/**
 * The commits between two that may have brought a failure in, likeliest first, with the items that the asker may see, what those were for,
 * and the pull request. Empty where a commit is not here; null where git could not tell.
 */
export async function suspectsBetween(
  ctx: ServiceContext,
  who: Who,
  repository: string,
  failure: FailureBetween,
): Promise<SuspectRow[] | null> {
  const { lastGood, firstBad } = failure
  if (!getCommit(ctx.db, repository, firstBad) || !getCommit(ctx.db, repository, lastGood)) return []
  try {
    const suspects = await gitWorker(ctx).call('suspects', { dir: mirrorDir(ctx, repository), ...failure })
    const carriers = carriersOf(ctx, repository, failure)
    return suspects.slice(0, SHOWN).flatMap(({ sha, reasons }): SuspectRow[] => {
      const commit = getCommit(ctx.db, repository, sha)
      if (!commit) return []
      const items = visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${repository}/${sha}` })
      return [
        {
          sha,
          subject: firstLine(commit.message),
          author: commit.author_name,
          atMs: commit.committed_at_ms,
          items,
          requirements: [...new Set([...requirementsOfItems(ctx.db, items).values()].flat())].sort(),
          pullRequest: carriers.get(sha) ?? null,
          reasons,
        },
      ]
    })
  } catch (error) {
    if (error instanceof Error && isGitTrouble(error)) return null
    throw error
  }
}

/** Which pull request carried which commit, of those that were merged in between. */
function carriersOf(ctx: ServiceContext, repository: string, { lastGood, firstBad }: FailureBetween): Map<string, number> {
  const gap = graphOf(ctx, repository).between([firstBad], [lastGood])
  const merged = sql(ctx.db, LIST_MERGED_BY_SHAS).all<PullRequestRow>({ repository, shas: JSON.stringify([...gap]) })
  return new Map(merged.flatMap((pr) => commitsOfPullRequest(ctx, pr).map((sha) => [sha, pr.number] as const)))
}
