import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { getCommit } from '#subjects/code/index'
import { gitWorker } from '#subjects/git/index'
import { identityOf } from '#subjects/people/index'
import { visibleItemsTiedTo } from '#subjects/records/index'
import { makeRelease, requireFreeName } from '#subjects/releases/index'
import { pickMessage, remoteOf, requirePushed, throughGit, tipOf } from '#subjects/reviews/index'
import { lineOf, requireMissing } from './maintenance.views.js'

/**
 * Makes chosen changes anew on the line of a release, in the order of their history, and pushes the line; with a name the release of it is
 * tagged. `lookAgain` reads the repository anew once it is pushed. Throws what `lineOf` throws, `conflict` with the files where
 * one does not fit and for a name that is taken, `changed-meanwhile` where the line moved, `outside-unreachable` with the remote's words.
 */
export async function makePicks(
  ctx: ServiceContext,
  who: Who,
  text: string,
  input: { branch?: string | undefined; shas: string[]; name: string | null },
  lookAgain: (repository: string) => Promise<void>,
): Promise<{ branch: string; sha: string; release: string | null }> {
  const line = lineOf(ctx, text, input.branch)
  const { service, repository, branch, tip, isThere } = line
  if (input.name !== null) requireFreeName(ctx, service, input.name)
  const chosen = new Set(input.shas)
  const shas = requireMissing(ctx, line, input.shas).filter((sha) => chosen.has(sha))
  const picks = shas.map((sha) => {
    const commit = getCommit(ctx.db, repository, sha)
    if (!commit) throw new Problem('not-found', { detail: `No commit ${sha.slice(0, 12)} of ${repository} is known here.` })
    const keys = visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${repository}/${sha}` })
    const author = { name: commit.author_name, email: commit.author_email, atMs: commit.author_at_ms }
    return { sha, message: pickMessage(commit.message, sha, keys), author }
  })
  const result = await throughGit(() =>
    gitWorker(ctx).call('pickRow', {
      ...remoteOf(ctx, repository),
      onto: tip,
      picks,
      by: identityOf(ctx, who),
      branch,
      expected: isThere ? tip : null,
    }),
  )
  if (result.kind === 'conflict')
    throw new Problem('conflict', {
      detail: `They do not all fit onto ${branch}: ${result.files.slice(0, 5).join(', ')} changed there otherwise. Nothing was changed.`,
      facts: { files: result.files },
    })
  requirePushed(result, branch)
  await lookAgain(repository)
  const sha = tipOf(ctx, repository, branch)
  if (sha === null) throw new Problem('outside-unreachable', { detail: `${branch} was pushed, and could not be read again yet.` })
  if (input.name !== null) await makeRelease(ctx, who, service, { name: input.name, sha })
  return { branch, sha, release: input.name === null ? null : `${service}@${input.name}` }
}
