import { addedLines, type ChangedCoverage, coverageOfChange } from '@dystracer/core/reviews/changed-coverage'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { findPullRequest, readPullRequestDiff } from '#subjects/code/index'
import { GET_MEASURED_BUILD, LIST_COVERAGE_OF_PATHS } from './reviewing.queries.js'

/**
 * Which of the lines that a change brings tests ran, by the newest build of its newest commit that measured it. Throws `not-found`, and
 * `outside-unreachable` where its commits are not here.
 */
export async function readChangedCoverage(
  ctx: ServiceContext,
  who: Who,
  id: string,
): Promise<ChangedCoverage & { build: string | null; isCut: boolean }> {
  const { repository, head_sha: sha } = findPullRequest(ctx, who, id)
  const build = sql(ctx.db, GET_MEASURED_BUILD).get<{ number: number }>({ repository, sha })
  if (!build) return { build: null, files: [], covered: 0, missed: 0, isCut: false }
  const { diff, isCut } = await readPullRequestDiff(ctx, who, id)
  const added = addedLines(diff)
  const reported = sql(ctx.db, LIST_COVERAGE_OF_PATHS).all<{ path: string; covered: string; missed: string }>({
    repository,
    build: build.number,
    paths: JSON.stringify([...added.keys()]),
  })
  return { build: `${repository}/${build.number}`, ...coverageOfChange(added, reported), isCut }
}
