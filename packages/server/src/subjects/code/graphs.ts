import type { CommitGraph } from '@dystracer/core/code/commit-graph'
import { slot, type ServiceContext } from '#platform/context'

const GRAPHS = slot('commit graphs', () => new Map<string, CommitGraph>())

/** The commit graphs of the repositories, in memory, by name. */
export function graphs(ctx: Pick<ServiceContext, 'use'>): Map<string, CommitGraph> {
  return ctx.use(GRAPHS)
}
