import type { MergeMethod } from '@dystracer/core/reviews/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { toProblem } from '#platform/http/problem-middleware'
import { findPullRequest } from '#subjects/code/index'
import { whoIsPerson } from '#subjects/people/index'
import { dropWish, gatesOf, LIST_MERGE_TRIAL, LIST_MERGE_WISHES, LIST_REPOSITORIES_WITH_WISHES, mergeNow } from '#subjects/reviews/index'
import { advanceQueue, clearTrials, type Entry } from './merge-queue.js'

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
type Sync = { request(repository: string, cause: string): Promise<void> }

/**
 * Merges by itself what somebody wants merged, the moment that every gate holds: in their name, with the
 * right that they have then. One that cannot be merged (a conflict, a right that was lost) is wanted no more,
 * and says why. Gives its own stopper.
 */
export function startMerging(ctx: ServiceContext, sync: Sync): () => void {
  const underWay = new Set<string>()
  // What happened while a repository was looked at may matter to what was looked at already.
  const again = new Set<string>()
  const tryRepository = (repository: string) => {
    if (underWay.has(repository)) {
      again.add(repository)
      return
    }
    const isIdle = [LIST_MERGE_WISHES, LIST_MERGE_TRIAL].every((list) => sql(ctx.db, list).get({ repository }) === undefined)
    if (isIdle) return
    underWay.add(repository)
    ctx.background.add(
      mergeWished(ctx, sync, repository).finally(() => {
        underWay.delete(repository)
        if (again.delete(repository)) tryRepository(repository)
      }),
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

/**
 * Tries the wishes of a repository in the order in which they were made: each is merged on top of those before it, at once, or, where its
 * base asks for that, after the result was built.
 */
async function mergeWished(ctx: ServiceContext, sync: Sync, repository: string): Promise<void> {
  const rows = new Map<string, Entry[]>()
  const wanted = new Set<number>()
  for (const { number, by, method } of sql(ctx.db, LIST_MERGE_WISHES).all<{ number: number; by: string; method: MergeMethod }>({
    repository,
  })) {
    const who = whoIsPerson(ctx.db, by.replace(/^person:/, ''))
    const row = findPullRequest(ctx, who, `${repository}/${number}`)
    if (row.state !== 'open') {
      dropWish(ctx, who, row, null)
      continue
    }
    wanted.add(number)
    const unmet = (await gatesOf(ctx, who, row)).gates.filter(({ isMet }) => !isMet)
    const isQueued = unmet.some(({ code }) => code === 'queue')
    if (unmet.length > (isQueued ? 1 : 0)) continue
    const entry = { row, who, method }
    if (!isQueued) await mergeOne(ctx, sync, entry)
    else rows.set(row.base, [...(rows.get(row.base) ?? []), entry])
  }
  const why = await orWait(ctx, async () => {
    await clearTrials(ctx, repository, wanted)
    for (const [base, entries] of rows) await advanceQueue(ctx, sync, { repository, base }, entries)
  })
  if (why !== null) ctx.log.warn({ repository, why }, 'the row of merges is held up')
}

async function mergeOne(ctx: ServiceContext, sync: Sync, { row, who, method }: Entry): Promise<void> {
  const why = await orWait(ctx, async () => {
    await mergeNow(ctx, who, row, method)
    dropWish(ctx, who, row, null)
  })
  if (why !== null) dropWish(ctx, who, row, why)
  await sync.request(row.repository, 'merged once its gates held')
}

/** Why something cannot be done; null where it was done, or has to wait: for a base that moved meanwhile, or a host that is away. */
async function orWait(ctx: ServiceContext, work: () => Promise<void>): Promise<string | null> {
  try {
    await work()
    return null
  } catch (error) {
    const problem = toProblem(error)
    if (problem.status < 500 && problem.code !== 'changed-meanwhile') return problem.message
    ctx.log.warn({ err: error }, 'a merge that was wanted has to wait')
    return null
  }
}
