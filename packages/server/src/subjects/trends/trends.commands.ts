import { keyOfChart, PINNED_MAX, type PinnedChart } from '@dystracer/core/trends/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { mainBranchOf } from '#subjects/code/index'
import { requireProject } from '#subjects/setup/index'
import { listPinnedCharts, pinnedIn } from './trends.views.js'

/**
 * Sets the pinned charts of a project anew. Those of what the asker may not see are kept behind the others: they are not theirs to take
 * away. Throws `invalid-input` for a repository that they do not see, two that are the same, and too many.
 */
export function setPinnedCharts(ctx: ServiceContext, who: Who, project: string, charts: readonly PinnedChart[]): void {
  requireProject(ctx.db, project)
  const shown = new Set(listPinnedCharts(ctx, who, project).map(keyOfChart))
  const kept = pinnedIn(ctx, project).filter((chart) => !shown.has(keyOfChart(chart)))
  const all = [...charts, ...kept]
  const fail = (words: string) => new Problem('invalid-input', { fields: { charts: words } })
  if (new Set(all.map(keyOfChart)).size < all.length) throw fail('One of them is pinned already')
  if (all.length > PINNED_MAX) throw fail(`At most ${PINNED_MAX} charts are pinned`)
  const unknown = charts.find(({ repository }) => mainBranchOf(ctx.db, repository) === null)
  if (unknown) throw fail(`No repository ${unknown.repository} is connected`)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'pinned-charts-set', actor: who.actor, subjects: [`project:${project}`], body: { project, charts: all } })
  })
}
