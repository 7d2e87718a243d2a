import { Problem } from '@dystracer/core/basics/problem'
import type { PullRequestDetail } from '@dystracer/core/code/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { OutsideError } from '#platform/outside-error'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import { codeHostOf } from './code-host.slot.js'
import type { CodeHost } from './code-host.js'
import { readPullRequest } from './code.views.js'

/**
 * Asks the code host for a pull request of a branch and gives its number. Throws `outside-unreachable` where no host is connected or it
 * does not answer.
 */
export async function openPullRequest(
  ctx: ServiceContext,
  who: Who,
  input: { repository: string; head: string },
): Promise<{ number: number }> {
  requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, input.repository))
  const { number } = await throughCodeHost(ctx, (host) => host.openPullRequest({ ...input, by: nameOf(who) }))
  return { number }
}

/**
 * Asks the code host to merge a pull request, where the gate of merging is open. Throws `gate-closed` with what is missing,
 * `outside-unreachable`.
 */
export async function mergePullRequest(ctx: ServiceContext, who: Who, input: { repository: string; number: string }): Promise<void> {
  const pr = readPullRequest(ctx, who, `${input.repository}/${input.number}`)
  const missing = missingToMerge(pr)
  if (missing !== null) throw new Problem('gate-closed', { detail: missing })
  await throughCodeHost(ctx, (host) => host.mergePullRequest({ repository: pr.repository, number: pr.number, by: nameOf(who) }))
}

/** What keeps a pull request from being merged, as what to do; null where nothing does (docs/rules.md#gates). */
function missingToMerge({ build }: PullRequestDetail): string | null {
  if (build?.state === 'passed') return null
  return build?.state === 'broke' ? `Build ${build.number} broke; mend it and push again.` : 'No build of its newest commit has passed yet.'
}

function nameOf(who: Who): string {
  return who.personId ?? who.actor
}

async function throughCodeHost<T>(ctx: ServiceContext, work: (host: CodeHost) => Promise<T>): Promise<T> {
  const host = codeHostOf(ctx)
  if (!host) throw new Problem('outside-unreachable', { detail: 'No code host is connected.' })
  try {
    return await work(host)
  } catch (error) {
    if (error instanceof OutsideError)
      throw new Problem('outside-unreachable', { detail: `${error.message}. Nothing was changed here.`, cause: error })
    throw error
  }
}
