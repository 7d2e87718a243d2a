import { codeHostOf } from './code-host.slot.js'
import type { ServiceContext } from '#platform/context'
import type { CodeHost } from './code-host.js'
import type { Api } from '#platform/http/api'
import { OutsideError } from '#platform/outside-error'
import { listRepositories, listCommits, readCommit, readCommitDiff, listPullRequests, readPullRequest, readPullRequestDiff } from './code.views.js'
import { Problem } from '@dystracer/core/basics/problem'
import { codeOperations } from '@dystracer/core/code/wire'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'

async function throughOutside<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof OutsideError)
      throw new Problem('outside-unreachable', { detail: `${error.message}. Nothing was changed here.`, cause: error })
    throw error
  }
}

function requireCodeHost(ctx: ServiceContext): CodeHost {
  const host = codeHostOf(ctx)
  if (!host) throw new Problem('outside-unreachable', { detail: 'No code host is connected.' })
  return host
}

export function addCodeRoutes(api: Api): void {
  api.handle(codeOperations.listRepositories, ({ ctx, who }) => ({ rows: listRepositories(ctx, who) }))
  api.handle(codeOperations.listCommits, ({ ctx, who, query }) => listCommits(ctx, who, query))
  api.handle(codeOperations.readCommit, ({ ctx, who, params }) => readCommit(ctx, who, params.sha))
  api.handle(codeOperations.readCommitOf, ({ ctx, who, params }) => readCommit(ctx, who, `${params.repository}/${params.sha}`))
  api.handle(codeOperations.readCommitDiff, ({ ctx, who, params }) => readCommitDiff(ctx, who, `${params.repository}/${params.sha}`))
  api.handle(codeOperations.listPullRequests, ({ ctx, who, query }) => listPullRequests(ctx, who, query))
  api.handle(codeOperations.readPullRequest, ({ ctx, who, params }) => readPullRequest(ctx, who, params.number))
  api.handle(codeOperations.readPullRequestOf, ({ ctx, who, params }) => readPullRequest(ctx, who, `${params.repository}/${params.number}`))
  api.handle(codeOperations.readPullRequestDiff, ({ ctx, who, params }) => readPullRequestDiff(ctx, who, `${params.repository}/${params.number}`))
  api.handle(codeOperations.openPullRequest, async ({ ctx, who, body }) => {
    requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, body.repository))
    return throughOutside(async () => ({ number: (await requireCodeHost(ctx).openPullRequest({ ...body, by: who.personId ?? who.actor })).number }))
  })
  api.handle(codeOperations.mergePullRequest, async ({ ctx, who, params }) => {
    const pr = readPullRequest(ctx, who, `${params.repository}/${params.number}`)
    if (pr.build?.state !== 'passed')
      throw new Problem('gate-closed', {
        detail:
          pr.build?.state === 'broke' ? `Build ${pr.build.number} broke; mend it and push again.` : 'No build of its newest commit has passed yet.',
      })
    return throughOutside(async () => {
      await requireCodeHost(ctx).mergePullRequest({ repository: pr.repository, number: pr.number, by: who.personId ?? who.actor })
      return {}
    })
  })
}
