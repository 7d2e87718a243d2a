import { Problem } from '@dystracer/core/basics/problem'
import type { PullRequestDetail } from '@dystracer/core/code/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { OutsideError } from '#platform/outside-error'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import { codeHostOf, findPullRequest, readPullRequest } from '#subjects/code/index'
import { changeHere, createBranchHere, mergeHere, openHere, type OpenInput } from './own-pull-requests.js'

/**
 * Opens a pull request of a branch and gives its number: in the code host that the repository lives in, else here. Throws
 * `outside-unreachable` where the host does not answer, and what openHere throws.
 */
export async function openPullRequest(ctx: ServiceContext, who: Who, input: OpenInput): Promise<{ number: number }> {
  const { repository, source } = input
  requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, repository))
  const host = codeHostOf(ctx, repository)
  if (!host) return { number: openHere(ctx, who, input) }
  const { number } = await asking(() => host.openPullRequest({ repository, head: source, by: nameOf(who) }))
  return { number }
}

/** Merges a pull request where nothing is missing any more. Throws `gate-closed` with what is, and what mergeHere throws. */
export async function mergePullRequest(ctx: ServiceContext, who: Who, input: { repository: string; number: string }): Promise<void> {
  const id = `${input.repository}/${input.number}`
  const { repository, number, missing } = readPullRequest(ctx, who, id)
  if (missing !== null) throw new Problem('gate-closed', { detail: missing })
  const host = codeHostOf(ctx, repository)
  if (host) await asking(() => host.mergePullRequest({ repository, number, by: nameOf(who) }))
  else await mergeHere(ctx, who, findPullRequest(ctx, who, id))
}

/** Changes one that lives here; gives it as it is then. Throws `conflict` for one that lives elsewhere. */
export function changePullRequest(
  ctx: ServiceContext,
  who: Who,
  { repository, number, ...change }: { repository: string; number: string } & Parameters<typeof changeHere>[3],
): PullRequestDetail {
  const id = `${repository}/${number}`
  changeHere(ctx, who, findPullRequest(ctx, who, id), change)
  return readPullRequest(ctx, who, id)
}

/** Creates a branch at the tip of another, where the repository lives. Throws `outside-unreachable`, with nothing changed. */
export async function createBranch(
  ctx: ServiceContext,
  who: Who,
  input: { repository: string; branch: string; from: string },
): Promise<void> {
  const host = codeHostOf(ctx, input.repository)
  if (host) await asking(() => host.createBranch({ ...input, by: nameOf(who) }))
  else await createBranchHere(ctx, input)
}

function nameOf(who: Who): string {
  return who.personId ?? who.actor
}

async function asking<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof OutsideError)
      throw new Problem('outside-unreachable', { detail: `${error.message}. Nothing was changed here.`, cause: error })
    throw error
  }
}
