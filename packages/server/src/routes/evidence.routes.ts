import { z } from 'zod'
import { zPage, zPageQuery } from '@dystracer/core/basics/wire'
import { zAskDeployment, zRelease, zReleaseBoard } from '@dystracer/core/releases/wire'
import {
  zBuild,
  zCommit,
  zCommitSummary,
  zDiff,
  zOpenPullRequest,
  zPullRequest,
  zPullRequestDetail,
  zPullRequestQuery,
  zRepository,
} from '@dystracer/core/code/wire'
import { zBuildDetail, zBuildQuery } from '@dystracer/core/builds/wire'
import { zRequirement, zRequirementDetail, zWriteRequirement } from '@dystracer/core/requirements/wire'
import { Problem } from '@dystracer/core/basics/problem'
import { OutsideError } from '#platform/outside-error'
import { requireRole } from '#subjects/people/access'
import { onlyVisible } from '#subjects/records/visibility'
import { listBuilds, readBuild } from '#subjects/builds/builds.views'
import {
  listCommits,
  listPullRequests,
  listRepositories,
  readCommit,
  readCommitDiff,
  readPullRequest,
  readPullRequestDiff,
} from '#subjects/code/code.views'
import { approveDeployment, askDeployment } from '#subjects/releases/deployments.commands'
import { readRelease, readReleaseBoard } from '#subjects/releases/releases.views'
import { listRequirements, readRequirement, writeRequirement } from '#subjects/requirements/requirements.views'
import type { Api } from '#platform/http/api'

export function addEvidenceRoutes(api: Api): void {
  addCodeRoutes(api)
  api.add({
    method: 'get',
    path: '/releases',
    summary: 'Releases and where they run',
    answer: zReleaseBoard,
    handle: ({ ctx }) => readReleaseBoard(ctx),
  })
  api.add({
    method: 'get',
    path: '/releases/:release',
    summary: 'One release, as service@version',
    answer: zRelease,
    handle: ({ ctx, who, params }) => {
      const release = readRelease(ctx, params.release ?? '')
      return { ...release, items: onlyVisible(ctx.db, who, release.items) }
    },
  })
  api.add({
    method: 'post',
    path: '/deployments',
    summary: 'Ask for a release in an environment',
    body: zAskDeployment,
    answer: zReleaseBoard,
    handle: async ({ ctx, who, body }) => {
      await askDeployment(ctx, who, body)
      return readReleaseBoard(ctx)
    },
  })
  api.add({
    method: 'post',
    path: '/deployments/:id/approve',
    summary: 'Approve a waiting deployment',
    answer: zReleaseBoard,
    handle: async ({ ctx, who, params }) => {
      await approveDeployment(ctx, who, params.id ?? '')
      return readReleaseBoard(ctx)
    },
  })
  api.add({
    method: 'get',
    path: '/requirements',
    summary: 'All requirements in document order',
    answer: z.object({ rows: z.array(zRequirement) }),
    handle: ({ ctx }) => ({ rows: listRequirements(ctx) }),
  })
  api.add({
    method: 'get',
    path: '/requirements/:key',
    summary: 'One requirement',
    answer: zRequirementDetail,
    handle: ({ ctx, who, params }) => readRequirement(ctx, who, (params.key ?? '').toUpperCase()),
  })
  api.add({
    method: 'put',
    path: '/requirements/:key',
    summary: 'Write a new revision',
    body: zWriteRequirement,
    answer: zRequirementDetail,
    handle: ({ ctx, who, params, body }) => {
      writeRequirement(ctx, who, (params.key ?? '').toUpperCase(), body)
      return readRequirement(ctx, who, (params.key ?? '').toUpperCase())
    },
  })
}

const zCommitQuery = zPageQuery.extend({ repository: z.string().optional() })

function addCodeRoutes(api: Api): void {
  api.add({
    method: 'get',
    path: '/repositories',
    summary: 'Repositories with their branches',
    answer: z.object({ rows: z.array(zRepository) }),
    handle: ({ ctx }) => ({ rows: listRepositories(ctx) }),
  })
  api.add({
    method: 'get',
    path: '/commits',
    summary: 'Commits, newest first',
    query: zCommitQuery,
    answer: zPage(zCommitSummary),
    handle: ({ ctx, query }) => listCommits(ctx, query),
  })
  api.add({
    method: 'get',
    path: '/commits/:sha',
    summary: 'A commit by hash or its beginning',
    answer: zCommit,
    handle: ({ ctx, params }) => readCommit(ctx, params.sha ?? ''),
  })
  api.add({
    method: 'get',
    path: '/commits/:repository/:sha',
    summary: 'A commit of a repository',
    answer: zCommit,
    handle: ({ ctx, params }) => readCommit(ctx, `${params.repository}/${params.sha}`),
  })
  api.add({
    method: 'get',
    path: '/commits/:repository/:sha/diff',
    summary: 'Its diff',
    answer: zDiff,
    handle: ({ ctx, params }) => readCommitDiff(ctx, `${params.repository}/${params.sha}`),
  })
  api.add({
    method: 'get',
    path: '/pull-requests',
    summary: 'Pull requests, last changed first',
    query: zPullRequestQuery,
    answer: zPage(zPullRequest),
    handle: ({ ctx, query }) => listPullRequests(ctx, query),
  })
  api.add({
    method: 'get',
    path: '/pull-requests/:number',
    summary: 'A pull request by number alone',
    answer: zPullRequestDetail,
    handle: ({ ctx, params }) => readPullRequest(ctx, params.number ?? ''),
  })
  api.add({
    method: 'get',
    path: '/pull-requests/:repository/:number',
    summary: 'A pull request',
    answer: zPullRequestDetail,
    handle: ({ ctx, params }) => readPullRequest(ctx, `${params.repository}/${params.number}`),
  })
  api.add({
    method: 'get',
    path: '/pull-requests/:repository/:number/diff',
    summary: 'Its diff',
    answer: zDiff,
    handle: ({ ctx, params }) => readPullRequestDiff(ctx, `${params.repository}/${params.number}`),
  })
  api.add({
    method: 'post',
    path: '/pull-requests',
    summary: 'Open a pull request in the code host',
    body: zOpenPullRequest,
    answer: z.object({ number: z.number().int() }),
    handle: async ({ ctx, who, body }) => {
      requireRole(who, 'member')
      return throughOutside(async () => ({ number: (await codeHostOf(ctx).openPullRequest({ ...body, by: who.personId ?? who.actor })).number }))
    },
  })
  api.add({
    method: 'post',
    path: '/pull-requests/:repository/:number/merge',
    summary: 'Merge in the code host',
    answer: z.object({}),
    handle: async ({ ctx, who, params }) => {
      requireRole(who, 'member')
      const pr = readPullRequest(ctx, `${params.repository}/${params.number}`)
      if (pr.build?.state !== 'passed')
        throw new Problem('gate-closed', {
          detail:
            pr.build?.state === 'broke' ? `Build ${pr.build.number} broke; mend it and push again.` : 'No build of its newest commit has passed yet.',
        })
      return throughOutside(async () => {
        await codeHostOf(ctx).mergePullRequest({ repository: pr.repository, number: pr.number, by: who.personId ?? who.actor })
        return {}
      })
    },
  })
  api.add({
    method: 'get',
    path: '/builds',
    summary: 'Builds, newest first',
    query: zBuildQuery,
    answer: zPage(zBuild),
    handle: ({ ctx, query }) => listBuilds(ctx, query),
  })
  api.add({
    method: 'get',
    path: '/builds/:repository/:number',
    summary: 'A build with its tests',
    answer: zBuildDetail,
    handle: ({ ctx, params }) => readBuild(ctx, params.repository ?? '', Number(params.number)),
  })
}

function codeHostOf(ctx: Parameters<typeof readPullRequest>[0]) {
  if (!ctx.codeHost) throw new Problem('outside-unreachable', { detail: 'No code host is connected.' })
  return ctx.codeHost
}

async function throughOutside<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof OutsideError)
      throw new Problem('outside-unreachable', { detail: `${error.message}. Nothing was changed here.`, cause: error })
    throw error
  }
}
