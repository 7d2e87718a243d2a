import type { MergeMethod } from '@dystracer/core/reviews/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { toProblem } from '#platform/http/problem-middleware'
import { findPullRequest } from '#subjects/code/index'
import { whoIsPerson } from '#subjects/people/index'
import { mergeNow } from './pull-requests.commands.js'
import { dropWish } from './reviewing.commands.js'
import { LIST_MERGE_WISHES, LIST_REPOSITORIES_WITH_WISHES } from './reviewing.queries.js'
import { gatesOf } from './gates.views.js'

/** Events after which a gate may hold that did not before. */
const MAY_OPEN = new Set([
  'review-given',
  'remark-settled',
  'merge-gates-set',
  'build-finished',
  'tests-reported',
  'coverage-reported',
  'findings-reported',
  'pull-request-seen',
  'refs-moved',
  'merge-wanted',
  'link-asserted',
  'links-confirmed',
  'time-booked',
])

const EVERY_MS = 60_000

/**
 * Merges by itself what somebody wants merged, the moment that every gate holds: in their name, with the
 * right that they have then. One that cannot be merged (a conflict, a right that was lost) is wanted no more,
 * and says why. Gives its own stopper.
 */
export function startMerging(ctx: ServiceContext, sync: { request(repository: string, cause: string): Promise<void> }): () => void {
  const underWay = new Set<string>()
  const tryRepository = (repository: string) => {
    if (underWay.has(repository) || sql(ctx.db, LIST_MERGE_WISHES).get({ repository }) === undefined) return
    underWay.add(repository)
    ctx.background.add(
      mergeWished(ctx, sync, repository).finally(() => underWay.delete(repository)),
      'merging what is ready',
    )
  }
  const tryAll = () => {
    for (const { repository } of sql(ctx.db, LIST_REPOSITORIES_WITH_WISHES).all<{ repository: string }>({})) tryRepository(repository)
  }
  // Hours open by the clock, with nothing else happening.
  ctx.jobs.every({ name: 'merging what is ready', everyMs: EVERY_MS, run: tryAll })
  return ctx.journal.onCommit((entries) => {
    const opening = entries.filter(({ kind }) => MAY_OPEN.has(kind))
    const named = opening.map(({ subjects }) =>
      subjects.flatMap((subject) => /^(?:repository|pull-request|build):([^/]+)/.exec(subject)?.[1] ?? []),
    )
    // What is said of an item or a requirement alone may open a gate wherever something waits.
    if (named.some((repositories) => repositories.length === 0)) tryAll()
    else for (const repository of new Set(named.flat())) tryRepository(repository)
  })
}

/** Tries the wishes of a repository in the order in which they were made: each is merged on top of those before it. */
async function mergeWished(
  ctx: ServiceContext,
  sync: { request(repository: string, cause: string): Promise<void> },
  repository: string,
): Promise<void> {
  for (const { number, by, method } of sql(ctx.db, LIST_MERGE_WISHES).all<{ number: number; by: string; method: MergeMethod }>({
    repository,
  })) {
    const who = whoIsPerson(ctx.db, by.replace(/^person:/, ''))
    const row = findPullRequest(ctx, who, `${repository}/${number}`)
    if (row.state !== 'open') {
      dropWish(ctx, who, row, null)
      continue
    }
    if ((await gatesOf(ctx, who, row)).gates.some(({ isMet }) => !isMet)) continue
    try {
      await mergeNow(ctx, who, row, method)
      dropWish(ctx, who, row, null)
    } catch (error) {
      const problem = toProblem(error)
      // A base that moved meanwhile, or a host that is away, is tried again when something happens next.
      if (problem.status >= 500 || problem.code === 'changed-meanwhile') ctx.log.warn({ err: error }, 'a merge that was wanted has to wait')
      else dropWish(ctx, who, row, problem.message)
    }
    await sync.request(repository, 'merged once its gates held')
  }
}
