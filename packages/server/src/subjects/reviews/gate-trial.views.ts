import { DEFAULT_GATES, type GateCode } from '@dystracer/core/reviews/gates'
import type { MergeGates } from '@dystracer/core/reviews/events'
import type { GateTrial } from '@dystracer/core/reviews/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { commitsOfPullRequest, type PullRequestRow } from '#subjects/code/index'
import { maySee } from '#subjects/records/index'
import { LIST_BROUGHT_IN_BY_COMMITS, LIST_MERGED_PULL_REQUEST } from './reviewing.queries.js'
import { gatesOf } from './gates.views.js'

/** The gates that are tried, each alone, in the order in which they are told. */
const TRIED: readonly { code: GateCode; gates: MergeGates }[] = [
  { code: 'build', gates: DEFAULT_GATES },
  { code: 'agreements', gates: { ...DEFAULT_GATES, agreements: 1 } },
  { code: 'agreements', gates: { ...DEFAULT_GATES, agreements: 2 } },
  { code: 'owners', gates: { ...DEFAULT_GATES, needsOwners: true } },
  { code: 'settled', gates: { ...DEFAULT_GATES, needsSettled: true } },
  { code: 'item', gates: { ...DEFAULT_GATES, needsItem: true } },
  { code: 'requirement', gates: { ...DEFAULT_GATES, needsRequirement: true } },
  { code: 'time', gates: { ...DEFAULT_GATES, needsTime: true } },
  { code: 'findings', gates: { ...DEFAULT_GATES, noNewFindings: true } },
]

/**
 * What each gate by itself would have stopped among the newest 60 merges of a repository, and which of those a defect was later found to
 * come from (a tie "brought in by" one of their commits, to an item that the asker may see). Judged by what is known now: an agreement that
 * was given counts, also where it fell afterwards by nothing but the merge.
 */
export async function tryMergeGates(ctx: ServiceContext, who: Who, repository: string): Promise<GateTrial> {
  const merged = sql(ctx.db, LIST_MERGED_PULL_REQUEST).all<PullRequestRow>({ repository })
  const harmful = merged.filter((row) => broughtInDefects(ctx, who, row)).map(({ number }) => number)
  const rows: GateTrial['rows'] = []
  for (const { code, gates } of TRIED) {
    const stopped: number[] = []
    for (const row of merged) {
      // As it stood before the merge: still open.
      const asked = await gatesOf(ctx, who, { ...row, state: 'open', is_draft: 0 }, gates)
      if (asked.gates.some((gate) => gate.code === code && !gate.isMet)) stopped.push(row.number)
    }
    rows.push({ code, needs: gates.agreements, stopped, harmful: stopped.filter((number) => harmful.includes(number)) })
  }
  return { merges: merged.length, rows, harmful }
}

function broughtInDefects(ctx: ServiceContext, who: Who, row: PullRequestRow): boolean {
  const shas = [...commitsOfPullRequest(ctx, row), ...(row.merge_sha === null ? [] : [row.merge_sha])]
  return sql(ctx.db, LIST_BROUGHT_IN_BY_COMMITS)
    .all<{ key: string }>({ ids: JSON.stringify(shas.map((sha) => `${row.repository}/${sha}`)) })
    .some(({ key }) => maySee(ctx.db, who, key))
}
