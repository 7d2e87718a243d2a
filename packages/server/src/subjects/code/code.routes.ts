import type { Api } from '#platform/http/api'
import { listRepositories, readCommit, readCommitDiff, readPullRequest, readPullRequestDiff } from './code.views.js'
import { listBranches, listCommits, listPullRequests } from './code-lists.views.js'
import { codeOperations } from '@dystracer/core/code/wire'

export function addCodeRoutes(api: Api): void {
  api.handle(codeOperations.listRepositories, ({ ctx, who }) => ({ rows: listRepositories(ctx, who) }))
  api.handle(codeOperations.listBranches, ({ ctx, who, query }) => listBranches(ctx, who, query))
  api.handle(codeOperations.listCommits, ({ ctx, who, query }) => listCommits(ctx, who, query))
  api.handle(codeOperations.readCommit, ({ ctx, who, params }) => readCommit(ctx, who, params.sha))
  api.handle(codeOperations.readCommitOf, ({ ctx, who, params }) => readCommit(ctx, who, `${params.repository}/${params.sha}`))
  api.handle(codeOperations.readCommitDiff, ({ ctx, who, params }) => readCommitDiff(ctx, who, `${params.repository}/${params.sha}`))
  api.handle(codeOperations.listPullRequests, ({ ctx, who, query }) => listPullRequests(ctx, who, query))
  api.handle(codeOperations.readPullRequest, ({ ctx, who, params }) => readPullRequest(ctx, who, params.number))
  api.handle(codeOperations.readPullRequestOf, ({ ctx, who, params }) => readPullRequest(ctx, who, `${params.repository}/${params.number}`))
  api.handle(codeOperations.readPullRequestDiff, ({ ctx, who, params }) =>
    readPullRequestDiff(ctx, who, `${params.repository}/${params.number}`),
  )
}
