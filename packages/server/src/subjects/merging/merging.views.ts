import type { MergeWaiting } from '@dystracer/core/merging/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { findPullRequest } from '#subjects/code/index'
import { hiddenRepositories } from '#subjects/records/index'
import { gatesOf, GET_MERGE_TRIAL } from '#subjects/reviews/index'
import { LIST_WAITING } from './merging.queries.js'

/** Changes that are merged once all holds, as far as the asker may see them, in the order in which they are taken. */
export async function listMergesWaiting(ctx: ServiceContext, who: Who): Promise<{ rows: MergeWaiting[] }> {
  const rows: MergeWaiting[] = []
  for (const wish of sql(ctx.db, LIST_WAITING).all<Pick<MergeWaiting, 'repository' | 'number' | 'by' | 'method' | 'atMs'>>({
    hidden: hiddenRepositories(ctx.db, who),
  })) {
    const { repository, number } = wish
    const row = findPullRequest(ctx, who, `${repository}/${number}`)
    // Merged or closed where it lives, and not looked at since.
    if (row.state !== 'open') continue
    const { gates } = await gatesOf(ctx, who, row)
    const trial = sql(ctx.db, GET_MERGE_TRIAL).get<{ ahead: string; build: string | null; state: string | null }>({ repository, number })
    rows.push({
      ...wish,
      title: row.title,
      author: row.author,
      base: row.base,
      unmet: gates.filter(({ isMet, code }) => !isMet && code !== 'queue'),
      trial: trial ? { ahead: JSON.parse(trial.ahead) as number[], build: trial.build, state: trial.state } : null,
    })
  }
  return { rows }
}
