import type { Aside, MainLine } from '@dystracer/core/builds/wire'
import type { Build } from '@dystracer/core/code/wire'
import { BUILD_VOCABULARY, type BuildField, type BuildFlag } from '@dystracer/core/filter/code-filter'
import { parseFilterBy } from '@dystracer/core/filter/parse-filter'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { compareAge, contains, type FilterDialect, filterAsSql, likeAnywhere, SQL_OPERATOR, understood } from '#platform/db/filter-parts'
import { sql } from '#platform/db/statements'
import { BUILD_COLUMNS, type BuildRow, graphOf, toBuild } from '#subjects/code/index'
import { hiddenRepositories } from '#subjects/records/index'
import { LIST_TEST_ASIDE } from './failures.queries.js'
import { today } from './failures.views.js'
import { LIST_AUTHOR_OF_COMMITS, LIST_ENDED_BUILD_OF_BRANCH, LIST_MAIN_BRANCH, LIST_TAKEN_OF_BRANCH } from './builds.queries.js'

/** Builds that a filter admits, newest first. Throws `filter-not-understood`. */
export function listBuilds(
  ctx: ServiceContext,
  who: Who,
  input: { repository?: string | undefined; filter?: string | undefined; limit: number; cursor?: string | undefined },
): { rows: Build[]; nextCursor: string | null } {
  const { where, bind } = filterAsSql(understood(parseFilterBy(BUILD_VOCABULARY, input.filter ?? '')), buildDialect(ctx))
  const after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', 0]
  const rows = sql(
    ctx.db,
    `SELECT ${BUILD_COLUMNS} FROM build
      WHERE (@repository IS NULL OR repository = @repository) AND (-started_at_ms, repository, number) > (@a, @b, @c)
        AND +repository NOT IN (SELECT value FROM json_each(@hidden)) AND ${where}
      ORDER BY started_at_ms DESC, repository, number LIMIT @limit`,
  ).all<BuildRow>({
    ...bind,
    repository: input.repository ?? null,
    a: after[0],
    b: after[1],
    c: after[2],
    limit: input.limit + 1,
    hidden: hiddenRepositories(ctx.db, who),
  })
  return pageOf(rows, input.limit, toBuild, (row) => [-row.started_at_ms, row.repository, row.number])
}

function buildDialect(ctx: ServiceContext): FilterDialect<BuildField, BuildFlag> {
  return {
    flags: {
      passed: "state = 'passed'",
      broke: "state = 'broke'",
      running: "state = 'running'",
      main: 'branch = (SELECT r.main_branch FROM repository r WHERE r.name = build.repository)',
    },
    words: (text, bound) =>
      `(branch LIKE ${bound(likeAnywhere(text))} ESCAPE '\\' OR EXISTS (SELECT 1 FROM build_name w
        WHERE w.repository = build.repository AND w.number = build.number AND w.name LIKE ${bound(likeAnywhere(text))} ESCAPE '\\'))`,
    compare: (part, bound) => {
      switch (part.field) {
        case 'repository':
          return `repository ${SQL_OPERATOR[part.comparison]} ${bound(part.value)} COLLATE NOCASE`
        case 'branch':
          return contains('branch', part, bound)
        case 'commit':
          return contains('sha', part, bound)
        case 'failed':
          return `failed ${SQL_OPERATOR[part.comparison]} ${bound(Number(part.value))}`
        case 'started':
          return compareAge('started_at_ms', part, bound, ctx.nowMs())
      }
    },
  }
}

/**
 * How the main line of each repository stands: its newest build that ended, and while that is broken the first that broke since one passed,
 * with whoever wrote the commits between. Looks at the newest 200 builds of each.
 */
export function listMainLines(ctx: ServiceContext, who: Who): MainLine[] {
  return sql(ctx.db, LIST_MAIN_BRANCH)
    .all<{ repository: string; branch: string }>({ hidden: hiddenRepositories(ctx.db, who) })
    .map(({ repository, branch }) => {
      const builds = sql(ctx.db, LIST_ENDED_BUILD_OF_BRANCH).all<BuildRow>({ repository, branch })
      const [newest] = builds
      const passedAt = builds.findIndex(({ state }) => state === 'passed')
      const first = newest?.state === 'broke' ? builds[passedAt < 0 ? builds.length - 1 : passedAt - 1] : undefined
      return {
        repository,
        branch,
        newest: newest ? toBuild(newest) : null,
        brokenSince: first ? toBuild(first) : null,
        brokenBy: first ? authorsBetween(ctx, repository, builds[passedAt]?.sha, first.sha) : [],
        takenBy: first
          ? sql(ctx.db, LIST_TAKEN_OF_BRANCH)
              .all<{ personId: string }>({ repository, branch })
              .map(({ personId }) => personId)
          : [],
      }
    })
}

/** Tests that are set aside, those first whose day is nearest. */
export function listAside(ctx: ServiceContext, who: Who): (Aside & { repository: string })[] {
  return sql(ctx.db, LIST_TEST_ASIDE).all<Aside & { repository: string }>({ today: today(ctx), hidden: hiddenRepositories(ctx.db, who) })
}

/** Whoever wrote what came between two commits; nobody where one of them is not known. */
function authorsBetween(ctx: ServiceContext, repository: string, passed: string | undefined, broke: string): string[] {
  if (passed === undefined || passed === '' || broke === '') return []
  const shas = [...graphOf(ctx, repository).between([broke], [passed])]
  return sql(ctx.db, LIST_AUTHOR_OF_COMMITS)
    .all<{ author: string }>({ repository, shas: JSON.stringify(shas) })
    .map(({ author }) => author)
}
