import { itemsTiedTo } from '#subjects/records/index'
import { sql } from '#platform/db/statements'
import type { ServiceContext } from '#platform/context'
import { LIST_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH } from './items-of-build.queries.js'
/** Items whose ladder shows a build: those of its branch, its commit and the pull requests with that head. */
export function itemsOfBuild(ctx: ServiceContext, repository: string, sha: string, branch: string): string[] {
  const prs = sql(ctx.db, LIST_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH).all<{ number: number }>({
    repository,
    branch,
  })
  return [
    ...itemsTiedTo(ctx.db, { kind: 'branch', id: `${repository}/${branch}` }),
    ...itemsTiedTo(ctx.db, { kind: 'commit', id: `${repository}/${sha}` }),
    ...prs.flatMap((pr) => itemsTiedTo(ctx.db, { kind: 'pull-request', id: `${repository}/${pr.number}` })),
  ]
}
