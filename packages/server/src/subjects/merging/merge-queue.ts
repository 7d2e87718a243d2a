import type { MergeMethod } from '@dystracer/core/reviews/events'
import { baseAndAhead } from '@dystracer/core/reviews/gate-words'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { toProblem } from '#platform/http/problem-middleware'
import type { PullRequestRow } from '#subjects/code/index'
import { gitWorker } from '#subjects/git/index'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfRepository } from '#subjects/records/index'
import {
  dropWish,
  GET_MERGE_TRIAL,
  LIST_MERGE_TRIAL,
  mergeOnto,
  remoteOf,
  requirePushed,
  settleMerged,
  takeBranchAway,
  throughGit,
  tipOf,
  TRIAL_PREFIX,
} from '#subjects/reviews/index'

/** A change that somebody wants merged and of which all else holds. */
export interface Entry {
  row: PullRequestRow
  who: Who
  method: MergeMethod
}
interface Trial {
  on: string
  headSha: string
  sha: string
  branch: string
  method: MergeMethod
  build: string | null
  state: string | null
}
type Sync = { request(repository: string, cause: string): Promise<void> }

/**
 * Takes the row of a base as far as it goes. Each change is merged with the one before it, the first with the base, as a branch of its own
 * that builds see. The first whose commit was built well goes to the base as just that commit; one that broke, or conflicts, steps out and
 * says why, and those behind it are merged anew without it. What is built already stays so: the next one's commit stands on what the base
 * has just taken.
 */
export async function advanceQueue(
  ctx: ServiceContext,
  sync: Sync,
  { repository, base }: { repository: string; base: string },
  entries: readonly Entry[],
): Promise<void> {
  let row = [...entries]
  // Each round takes one out of the row, or ends.
  while (row.length > 0) {
    const tip = tipOf(ctx, repository, base)
    if (tip === null) return
    const gone = await advanceOnce(ctx, sync, { base, tip }, row)
    if (gone === null) return
    row = row.filter((entry) => entry !== gone)
  }
}

/** Gives the change that left the row, merged or not; null where all that are left wait for builds. */
async function advanceOnce(
  ctx: ServiceContext,
  sync: Sync,
  { base, tip }: { base: string; tip: string },
  entries: readonly Entry[],
): Promise<Entry | null> {
  let on = tip
  const ahead: number[] = []
  for (const entry of entries) {
    const { row, who, method } = entry
    const known = trialOf(ctx, row)
    const stands = known !== undefined && known.on === on && known.headSha === row.head_sha && known.method === method
    if (stands && known.state === 'passed' && on === tip) {
      await takeInto(ctx, entry, { base, tip, sha: known.sha })
      await endTrial(ctx, row.repository, { number: row.number, sha: known.sha, branch: known.branch })
      dropWish(ctx, who, row, null)
      await sync.request(row.repository, 'merged as it was built')
      return entry
    }
    if (stands && (known.state === 'broke' || known.state === 'stopped')) {
      const words = known.state === 'broke' ? 'broke' : 'was stopped'
      await endTrial(ctx, row.repository, { number: row.number, sha: known.sha, branch: known.branch })
      dropWish(
        ctx,
        who,
        row,
        `Merged with ${baseAndAhead(base, ahead)}, build ${known.build ?? ''} ${words}. Mend it, and say again that it is to be merged.`,
      )
      return entry
    }
    const sha = stands ? known.sha : await tryOn(ctx, entry, { on, ahead, before: known?.sha ?? null })
    if (sha === null) return entry
    on = sha
    ahead.push(row.number)
  }
  return null
}

function trialOf(ctx: ServiceContext, { repository, number }: PullRequestRow): Trial | undefined {
  return sql(ctx.db, GET_MERGE_TRIAL).get<Trial>({ repository, number })
}

/** The branch on which a change is merged to see. */
export function trialBranch({ base, number }: { base: string; number: number }): string {
  return `${TRIAL_PREFIX}${base}/${number}`
}

/** Merges a change with a commit as a branch of its own, and gives the commit; null where it conflicts: then it is wanted no more. */
async function tryOn(
  ctx: ServiceContext,
  { row, who, method }: Entry,
  { on, ahead, before }: { on: string; ahead: readonly number[]; before: string | null },
): Promise<string | null> {
  const branch = trialBranch(row)
  try {
    requireRightInOneOf(who, 'code.contribute', projectsOfRepository(ctx.db, row.repository))
    const result = await mergeOnto(ctx, who, row, {
      method,
      onto: on,
      as: { branch, expected: before ?? tipOf(ctx, row.repository, branch) },
    })
    requirePushed(result, branch)
    if (result.kind !== 'merged') return null
    const { repository, number, head_sha: headSha } = row
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'merge-tried',
        actor: who.actor,
        subjects: [`pull-request:${repository}/${number}`],
        body: { repository, number, on, headSha, sha: result.sha, branch, method, ahead: [...ahead] },
      })
    })
    return result.sha
  } catch (error) {
    const problem = toProblem(error)
    // A base that moved meanwhile, or a host that is away, is tried again when something happens next.
    if (problem.status >= 500 || problem.code === 'changed-meanwhile') throw error
    const words = ahead.length === 0 ? problem.message : `Behind ${ahead.join(', ')}, which stand before it in the row: ${problem.message}`
    dropWish(ctx, who, row, words)
    return null
  }
}

/** The base takes a commit that was built. Throws `changed-meanwhile` where it moved. */
async function takeInto(
  ctx: ServiceContext,
  { row, who, method }: Entry,
  { base, tip, sha }: { base: string; tip: string; sha: string },
): Promise<void> {
  const { repository } = row
  requirePushed(
    await throughGit(() => gitWorker(ctx).call('pushRef', { ...remoteOf(ctx, repository), branch: base, sha, expected: tip })),
    base,
  )
  await settleMerged(ctx, who, row, { method, sha })
}

/** Takes away the branches of changes that nobody wants merged any more. */
export async function clearTrials(ctx: ServiceContext, repository: string, wanted: ReadonlySet<number>): Promise<void> {
  for (const trial of sql(ctx.db, LIST_MERGE_TRIAL).all<{ number: number; sha: string; branch: string }>({ repository }))
    if (!wanted.has(trial.number)) await endTrial(ctx, repository, trial)
}

async function endTrial(
  ctx: ServiceContext,
  repository: string,
  { number, sha, branch }: { number: number; sha: string; branch: string },
): Promise<void> {
  await takeBranchAway(ctx, repository, { branch, expected: sha })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'merge-trial-ended',
      actor: 'source:git',
      subjects: [`pull-request:${repository}/${number}`],
      body: { repository, number },
    })
  })
}
