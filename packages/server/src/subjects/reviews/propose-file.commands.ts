import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { gitWorker } from '#subjects/git/index'
import { identityOf } from '#subjects/people/index'
import { freeBranch, remoteOf, requirePushed, requireRepository, throughGit, tipOf } from './own-pull-requests.js'
import { openPullRequest } from './pull-requests.commands.js'

/** A file that a repository could hold, and the words of the commit that brings it. */
export interface ProposedFile {
  repository: string
  path: string
  text: string
  /** How its branch is to be called. */
  branch: string
  message: string
}

/**
 * Commits a file to a new branch on top of the main line and opens a pull request for it, by git where a repository lives here and wherever
 * else it lives; nothing is merged by it. `lookAgain` reads the repository anew once the branch is pushed. Throws `conflict` where the
 * repository has no commit yet, `outside-unreachable` with what the remote said.
 */
export async function proposeFile(
  ctx: ServiceContext,
  who: Who,
  { repository, path, text, branch: name, message }: ProposedFile,
  lookAgain: (repository: string) => Promise<void>,
): Promise<{ branch: string; number: number }> {
  const { main_branch: main } = requireRepository(ctx, repository)
  const from = tipOf(ctx, repository, main)
  if (from === null) throw new Problem('conflict', { detail: `${repository} has no commit on ${main} yet; push one first.` })
  const branch = freeBranch(ctx, repository, name)
  const result = await throughGit(() =>
    gitWorker(ctx).call('commitFile', {
      ...remoteOf(ctx, repository),
      branch,
      from,
      path,
      text,
      message,
      by: identityOf(ctx, who),
    }),
  )
  requirePushed(result, branch)
  await lookAgain(repository)
  const { number } = await openPullRequest(ctx, who, { repository, source: branch })
  return { branch, number }
}
