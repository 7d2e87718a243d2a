import { Problem } from '@dystracer/core/basics/problem'
import { compareTips } from '@dystracer/core/code/compare-tips'
import { lineName } from '@dystracer/core/maintenance/line-name'
import type { MaintenanceLine, PickPlan } from '@dystracer/core/maintenance/wire'
import type { Who } from '@dystracer/core/people/who'
import { nextOnLine } from '@dystracer/core/releases/next-names'
import { firstLine } from '@dystracer/core/text/first-line'
import type { ServiceContext } from '#platform/context'
import { getCommit, graphOf, mainTip } from '#subjects/code/index'
import { gitWorker } from '#subjects/git/index'
import { holdAgainst, releaseNamesOf, requireRelease, requireServiceCode } from '#subjects/releases/index'
import { remoteOf, requireRepository, throughGit, tipOf } from '#subjects/reviews/index'

/** So many changes are offered. */
const CHANGES_SHOWN = 500

/** Where the line of a release stands. */
export interface Line {
  service: string
  repository: string
  release: string
  branch: string
  mainBranch: string
  tagPrefix: string
  tip: string
  isThere: boolean
  /** Where the release itself stands. */
  base: string
}

/**
 * The line of a release: its branch, or the release itself where there is none yet. Throws `not-found`, and `conflict` for a branch that
 * does not have the release behind it: it is the line of something else.
 */
export function lineOf(ctx: ServiceContext, text: string, named?: string): Line {
  const { service, name, sha, repository } = requireRelease(ctx, text)
  const { tag_prefix: tagPrefix } = requireServiceCode(ctx, service)
  const branch = named ?? lineName(name, tagPrefix)
  const mainBranch = requireRepository(ctx, repository).main_branch
  if (branch === mainBranch)
    throw new Problem('invalid-input', { fields: { branch: `${branch} is the main line: a maintenance line is a branch of its own` } })
  const there = tipOf(ctx, repository, branch)
  if (there !== null && !graphOf(ctx, repository).isReachable(sha, there))
    throw new Problem('conflict', { detail: `${branch} does not come from ${name}: give the line of ${name} another name.` })
  return { service, repository, release: name, branch, mainBranch, tagPrefix, tip: there ?? sha, isThere: there !== null, base: sha }
}

/** The line of a release, and what of the main line could be made anew on it. Throws what `lineOf` throws. */
export function readMaintenanceLine(ctx: ServiceContext, who: Who, text: string, named?: string): MaintenanceLine {
  const { base, ...line } = lineOf(ctx, text, named)
  const { service, repository, tip } = line
  const graph = graphOf(ctx, repository)
  const ahead = [...graph.between([tip], [base])].reverse().flatMap((sha) => changeOf(ctx, repository, sha) ?? [])
  const shown = { service, release: line.release, repository, ahead, nextName: nextOnLine(line.release, releaseNamesOf(ctx, service)) }
  const main = mainTip(ctx.db, repository)
  if (main === null) return { ...line, ...shown, changes: [], more: 0, items: [] }
  const held = holdAgainst(
    ctx,
    who,
    { service, release: '', repository, sha: main },
    { name: line.release, sha: tip, runsIn: null },
    { shownMax: CHANGES_SHOWN, isNewestFirst: true },
  )
  const added = held.commits.filter(({ as }) => as === 'added')
  return {
    ...line,
    ...shown,
    changes: added.map(({ sha, subject, author, atMs, items }) => ({ sha, subject, author, atMs, items })),
    more: held.counts.added - added.length,
    items: held.items,
  }
}

/** What would become of chosen changes on the line. Throws what `lineOf` throws, and `invalid-input` for what the line has. */
export async function tryPicks(
  ctx: ServiceContext,
  text: string,
  input: { branch?: string | undefined; shas: string[] },
): Promise<PickPlan> {
  const line = lineOf(ctx, text, input.branch)
  const { repository } = line
  const missing = requireMissing(ctx, line, input.shas)
  const { dir } = remoteOf(ctx, repository)
  const plan = await throughGit(() => gitWorker(ctx).call('planPicks', { dir, onto: line.tip, chosen: input.shas, missing }))
  const subjectOf = (sha: string) => firstLine(getCommit(ctx.db, repository, sha)?.message ?? '')
  return {
    steps: plan.steps.map((step) => ({ ...step, needs: step.needs.map((need) => ({ ...need, subject: subjectOf(need.sha) })) })),
    further: plan.further.flatMap((sha) => changeOf(ctx, repository, sha) ?? []),
  }
}

/** All that the line lacks, the oldest first. Throws where one of those chosen is not among them. */
export function requireMissing(ctx: ServiceContext, { repository, tip, branch }: Line, shas: readonly string[]): string[] {
  const graph = graphOf(ctx, repository)
  const main = mainTip(ctx.db, repository)
  const lacks = new Set(main === null ? [] : compareTips(graph, main, tip).added)
  const unknown = shas.find((sha) => !lacks.has(sha))
  if (unknown !== undefined)
    throw new Problem('invalid-input', {
      fields: { shas: `${unknown.slice(0, 12)} is no change that the main line has and ${branch} lacks` },
    })
  // In the order of the graph, parents first: a change stands behind those that it was made upon.
  return [...graph.between(main === null ? [] : [main], [tip])].filter((sha) => lacks.has(sha))
}

function changeOf(ctx: ServiceContext, repository: string, sha: string): MaintenanceLine['ahead'][number] | null {
  const commit = getCommit(ctx.db, repository, sha)
  return commit ? { sha, subject: firstLine(commit.message), author: commit.author_name, atMs: commit.committed_at_ms } : null
}
