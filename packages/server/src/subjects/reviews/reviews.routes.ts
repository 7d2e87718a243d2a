import { codeOperations } from '@dystracer/core/code/wire'
import type { Api } from '#platform/http/api'
import { reviewsOperations } from '@dystracer/core/reviews/wire'
import { readChangedCoverage } from './changed-coverage.views.js'
import { listCommitRemarks, reactToCommitRemark, remarkOnCommit, settleCommitRemark } from './commit-remarks.commands.js'
import { carryCommit } from './carry.commands.js'
import { tryMergeGates } from './gate-trial.views.js'
import { takeProposed } from './proposed-changes.commands.js'
import { listReviewerProposals } from './reviewers.views.js'
import { askReview, giveReview, makeRemark, reactToRemark, setMergeGates, settleRemark, wantMerge } from './reviewing.commands.js'
import { proposePullRequest } from './proposal.views.js'
import { readRepositoryGates } from './gates.views.js'
import { readReview } from './reviewing.views.js'
import { changePullRequest, mergePullRequest, openPullRequest } from './pull-requests.commands.js'

/** `sync` looks at a repository at once into which was merged. */
export function addReviewsRoutes(api: Api, { sync }: { sync: { request(repository: string, cause: string): Promise<void> } }): void {
  api.handle(codeOperations.openPullRequest, ({ ctx, who, body }) => openPullRequest(ctx, who, body))
  api.handle(codeOperations.proposePullRequest, ({ ctx, who, params, query }) => proposePullRequest(ctx, who, { ...params, ...query }))
  api.handle(codeOperations.changePullRequest, ({ ctx, who, params, body }) => changePullRequest(ctx, who, { ...params, ...body }))
  const idOf = ({ repository, number }: { repository: string; number: string }) => `${repository}/${number}`
  api.handle(reviewsOperations.readReview, ({ ctx, who, params }) => readReview(ctx, who, idOf(params)))
  const commitOf = ({ repository, sha }: { repository: string; sha: string }) => `${repository}/${sha}`
  api.handle(reviewsOperations.listCommitRemarks, ({ ctx, who, params }) => listCommitRemarks(ctx, who, commitOf(params)))
  api.handle(reviewsOperations.remarkOnCommit, ({ ctx, who, params, body }) => {
    remarkOnCommit(ctx, who, commitOf(params), body)
    return listCommitRemarks(ctx, who, commitOf(params))
  })
  api.handle(reviewsOperations.settleCommitRemark, ({ ctx, who, params, body }) => {
    settleCommitRemark(ctx, who, commitOf(params), { remarkId: params.remarkId, ...body })
    return listCommitRemarks(ctx, who, commitOf(params))
  })
  api.handle(reviewsOperations.readChangedCoverage, ({ ctx, who, params }) => readChangedCoverage(ctx, who, idOf(params)))
  api.handle(reviewsOperations.askReview, ({ ctx, who, params, body }) => {
    askReview(ctx, who, idOf(params), body)
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.giveReview, ({ ctx, who, params, body }) => {
    giveReview(ctx, who, idOf(params), body)
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.makeRemark, ({ ctx, who, params, body }) => {
    makeRemark(ctx, who, idOf(params), body)
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.settleRemark, ({ ctx, who, params, body }) => {
    settleRemark(ctx, who, idOf(params), { remarkId: params.remarkId, ...body })
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.reactToRemark, ({ ctx, who, params, body }) => {
    reactToRemark(ctx, who, idOf(params), { remarkId: params.remarkId, ...body })
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.reactToCommitRemark, ({ ctx, who, params, body }) => {
    reactToCommitRemark(ctx, who, commitOf(params), { remarkId: params.remarkId, ...body })
    return listCommitRemarks(ctx, who, commitOf(params))
  })
  api.handle(reviewsOperations.takeProposed, async ({ ctx, who, params, body }) => {
    await takeProposed(ctx, who, idOf(params), body, (repository) => sync.request(repository, 'proposals taken'))
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.listReviewerProposals, async ({ ctx, who, params }) => ({
    rows: await listReviewerProposals(ctx, who, idOf(params)),
  }))
  api.handle(reviewsOperations.wantMerge, async ({ ctx, who, params, body }) => {
    const became = await wantMerge(ctx, who, idOf(params), body)
    if (became === 'merged') await sync.request(params.repository, 'merged here')
    return readReview(ctx, who, idOf(params))
  })
  api.handle(reviewsOperations.carryCommit, ({ ctx, who, params, body }) =>
    carryCommit(ctx, who, { ...params, ...body }, (repository) => sync.request(repository, 'carried here')),
  )
  api.handle(reviewsOperations.readMergeGates, ({ ctx, params }) => readRepositoryGates(ctx, params.repository))
  api.handle(reviewsOperations.tryMergeGates, ({ ctx, who, params }) => tryMergeGates(ctx, who, params.repository))
  api.handle(reviewsOperations.setMergeGates, async ({ ctx, who, params, body: { branches, ...gates } }) => {
    await setMergeGates(ctx, who, params.repository, { branches, gates })
    return readRepositoryGates(ctx, params.repository)
  })
  api.handle(reviewsOperations.dropMergeGates, async ({ ctx, who, params, query }) => {
    await setMergeGates(ctx, who, params.repository, { branches: query.branches, gates: null })
    return readRepositoryGates(ctx, params.repository)
  })
  api.handle(codeOperations.mergePullRequest, async ({ ctx, who, params }) => {
    await mergePullRequest(ctx, who, params)
    await sync.request(params.repository, 'merged here')
    return {}
  })
}
