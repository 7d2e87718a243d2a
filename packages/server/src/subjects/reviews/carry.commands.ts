import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { namesKey } from '@dystracer/core/text/references'
import { parseTrailers } from '@dystracer/core/text/trailers'
import type { ServiceContext } from '#platform/context'
import { identityOf } from '#subjects/people/index'
import { getCommit, graphOf } from '#subjects/code/index'
import { gitWorker } from '#subjects/git/index'
import { visibleItemsTiedTo } from '#subjects/records/index'
import { freeBranch, remoteOf, requirePushed, throughGit, tipOf } from './own-pull-requests.js'
import { openPullRequest } from './pull-requests.commands.js'

/**
 * Makes the change of a commit anew on another line (a cherry-pick), or takes it back there (a revert), as a new branch with a pull request
 * of its own, tied to the items of the commit; nothing is merged by it. `lookAgain` reads the repository anew once the branch is pushed.
 * Throws `conflict` with the files where it does not fit, or where there is nothing to do.
 */
export async function carryCommit(
  ctx: ServiceContext,
  who: Who,
  { repository, sha, how, onto }: { repository: string; sha: string; how: 'pick' | 'revert'; onto: string },
  lookAgain: (repository: string) => Promise<void>,
): Promise<{ repository: string; number: number }> {
  const commit = getCommit(ctx.db, repository, sha)
  if (!commit)
    throw new Problem('not-found', { detail: `No commit ${sha.slice(0, 12)} of ${repository} is known here; give its whole hash.` })
  const remote = remoteOf(ctx, repository)
  const tip = tipOf(ctx, repository, onto)
  if (tip === null) throw new Problem('invalid-input', { fields: { onto: `There is no branch ${onto}` } })
  const isThere = graphOf(ctx, repository).isReachable(sha, tip)
  if (how === 'pick' && isThere) throw new Problem('conflict', { detail: `${onto} has this commit already.` })
  const branch = freeBranch(ctx, repository, `${how}/${sha.slice(0, 8)}-onto-${onto.replaceAll('/', '-')}`)
  const [subject = ''] = commit.message.split('\n')
  const keys = visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${repository}/${sha}` })
  const result = await throughGit(() =>
    gitWorker(ctx).call('carry', {
      ...remote,
      sha,
      how,
      onto: tip,
      branch,
      message: how === 'pick' ? pickMessage(commit.message, sha, keys) : revertMessage(subject, sha, keys),
      by: identityOf(ctx, who),
      author: how === 'pick' ? { name: commit.author_name, email: commit.author_email, atMs: commit.author_at_ms } : null,
    }),
  )
  if (result.kind === 'conflict')
    throw new Problem('conflict', {
      detail: `It does not fit onto ${onto}: ${result.files.slice(0, 5).join(', ')}${
        result.files.length > 5 ? ' and more' : ''
      } changed there otherwise. Do it in a clone, and push the branch.`,
      facts: { files: result.files },
    })
  if (result.kind === 'nothing')
    throw new Problem('conflict', {
      detail: how === 'pick' ? `${onto} has this change already.` : `${onto} does not have what it changed: there is nothing to take back.`,
    })
  requirePushed(result, branch)
  await lookAgain(repository)
  const { number } = await openPullRequest(ctx, who, { repository, source: branch, target: onto })
  return { repository, number }
}

/**
 * What the commit says, with where it comes from in git's own words, before its trailers so that they stay the last; items that it is tied
 * to and does not name itself are named there.
 */
export function pickMessage(message: string, sha: string, keys: readonly string[]): string {
  const paragraphs = message.trimEnd().split(/\n{2,}/)
  const from = `(cherry picked from commit ${sha})`
  const at = paragraphs.length > 1 && parseTrailers(message).length > 0 ? paragraphs.length - 1 : paragraphs.length
  const unnamed = keys.filter((key) => !namesKey(message, key)).map((key) => `Refs: ${key}`)
  const trailers = [...paragraphs.slice(at), ...unnamed].join('\n')
  return `${[...paragraphs.slice(0, at), from, trailers].filter(Boolean).join('\n\n')}\n`
}

/** Git's own words for a revert, by which evidence knows it, and the items that it is about. */
function revertMessage(subject: string, sha: string, keys: readonly string[]): string {
  const trailers = keys.map((key) => `Refs: ${key}`).join('\n')
  return `Revert "${subject}"\n\nThis reverts commit ${sha}.\n${trailers === '' ? '' : `\n${trailers}\n`}`
}
