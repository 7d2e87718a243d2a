import type { Branch, CommitSummary, PullRequest } from '@dystracer/core/code/wire'
import {
  BRANCH_VOCABULARY,
  type BranchField,
  type BranchFlag,
  COMMIT_VOCABULARY,
  type CommitField,
  type CommitFlag,
  PULL_REQUEST_VOCABULARY,
  type PullRequestField,
  type PullRequestFlag,
} from '@dystracer/core/filter/code-filter'
import { parseFilterBy } from '@dystracer/core/filter/parse-filter'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import {
  type Bound,
  compareAge,
  contains,
  type Compared,
  type FilterDialect,
  filterAsSql,
  likeAnywhere,
  SQL_OPERATOR,
  understood,
} from '#platform/db/filter-parts'
import { sql } from '#platform/db/statements'
import { hiddenRepositories, maySee, visibleItemsTiedTo } from '#subjects/records/index'
import { COMMIT_COLUMNS, PULL_REQUEST_COLUMNS } from './code.queries.js'
import { toCommitSummary, toPullRequest } from './code.views.js'
import type { CommitRow, PullRequestRow } from './commit-facts.js'

interface Asked {
  repository?: string | undefined
  filter?: string | undefined
  limit: number
  cursor?: string | undefined
}
interface Page<Row> {
  rows: Row[]
  nextCursor: string | null
}

/**
 * Commits of one or of all repositories that a filter admits, newest first. Walks the index by time; a filter that admits little reads on
 * until the page is full. Throws `filter-not-understood`.
 */
export function listCommits(ctx: ServiceContext, who: Who, input: Asked): Page<CommitSummary> {
  const { where, bind } = filterAsSql(understood(parseFilterBy(COMMIT_VOCABULARY, input.filter ?? '')), commitDialect(ctx, who))
  const after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', '']
  const rows = sql(
    ctx.db,
    `SELECT ${COMMIT_COLUMNS} FROM git_commit c
      WHERE ${input.repository === undefined ? '' : 'c.repository = @repository AND '}(-c.committed_at_ms, c.repository, ` +
      `c.sha) > (@a, @b, @c)
        AND +c.repository NOT IN (SELECT value FROM json_each(@hidden)) AND ${where}
      ORDER BY c.committed_at_ms DESC, c.repository, c.sha LIMIT @limit`,
  ).all<CommitRow>({
    ...bind,
    a: after[0],
    b: after[1],
    c: after[2],
    limit: input.limit + 1,
    hidden: hiddenRepositories(ctx.db, who),
    repository: input.repository ?? null,
  })
  return pageOf(
    rows,
    input.limit,
    (row) => toCommitSummary(ctx, who, row),
    (row) => [-row.committed_at_ms, row.repository, row.sha],
  )
}

/** Pull requests that a filter admits, last changed first. Throws `filter-not-understood`. */
export function listPullRequests(ctx: ServiceContext, who: Who, input: Asked & { state?: string | undefined }): Page<PullRequest> {
  const { where, bind } = filterAsSql(understood(parseFilterBy(PULL_REQUEST_VOCABULARY, input.filter ?? '')), pullRequestDialect(ctx, who))
  const after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', 0]
  const rows = sql(
    ctx.db,
    `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request p
      WHERE (@repository IS NULL OR p.repository = @repository) AND (@state IS NULL OR p.state = @state)
        AND (-p.updated_at_ms, p.repository, p.number) > (@a, @b, @c)
        AND +p.repository NOT IN (SELECT value FROM json_each(@hidden)) AND ${where}
      ORDER BY p.updated_at_ms DESC, p.repository, p.number LIMIT @limit`,
  ).all<PullRequestRow>({
    ...bind,
    repository: input.repository ?? null,
    state: input.state ?? null,
    a: after[0],
    b: after[1],
    c: after[2],
    limit: input.limit + 1,
    hidden: hiddenRepositories(ctx.db, who),
  })
  return pageOf(
    rows,
    input.limit,
    (row) => toPullRequest(ctx, who, row),
    (row) => [-row.updated_at_ms, row.repository, row.number],
  )
}

interface BranchRow {
  repository: string
  name: string
  sha: string
  moved_at_ms: number
  forced_at_ms: number | null
  is_main: number
}

/** Branches that are there and that a filter admits, last moved first. Throws `filter-not-understood`. */
export function listBranches(ctx: ServiceContext, who: Who, input: Asked): Page<Branch> {
  const { where, bind } = filterAsSql(understood(parseFilterBy(BRANCH_VOCABULARY, input.filter ?? '')), branchDialect(ctx, who))
  const after = decodeCursor(input.cursor, 3) ?? [-Number.MAX_SAFE_INTEGER, '', '']
  const rows = sql(
    ctx.db,
    `SELECT b.* FROM (
        SELECT g.repository, substr(g.ref, 12) AS name, g.sha, g.moved_at_ms, g.forced_at_ms, g.ref = 'refs/heads/' || ` +
      `r.main_branch AS is_main
        FROM repository r JOIN git_ref g ON g.repository = r.name
        WHERE r.disconnected_at_ms IS NULL AND g.ref LIKE 'refs/heads/%' AND g.deleted_at_ms IS NULL AND g.sha IS NOT NULL) b
      WHERE (@repository IS NULL OR b.repository = @repository) AND (-b.moved_at_ms, b.repository, b.name) > (@a, @b, @c)
        AND b.repository NOT IN (SELECT value FROM json_each(@hidden)) AND ${where}
      ORDER BY b.moved_at_ms DESC, b.repository, b.name LIMIT @limit`,
  ).all<BranchRow>({
    ...bind,
    repository: input.repository ?? null,
    a: after[0],
    b: after[1],
    c: after[2],
    limit: input.limit + 1,
    hidden: hiddenRepositories(ctx.db, who),
  })
  return pageOf(
    rows,
    input.limit,
    (row) => ({
      repository: row.repository,
      name: row.name,
      sha: row.sha,
      atMs: row.moved_at_ms,
      isMain: row.is_main === 1,
      items: visibleItemsTiedTo(ctx.db, who, { kind: 'branch', id: `${row.repository}/${row.name}` }),
      forcedAtMs: row.forced_at_ms,
    }),
    (row) => [-row.moved_at_ms, row.repository, row.name],
  )
}

/** Whether a thing is tied to an item: to any, or to a certain one that the asker may see. */
function tiedTo(kind: string, id: string, key: string | null): string {
  return `EXISTS (SELECT 1 FROM link_assertion l WHERE l.to_kind = '${kind}' AND l.to_id = ${id} AND l.from_kind = 'item'
    ${key === null ? '' : `AND l.from_id = ${key}`} AND l.retracted_at_ms IS NULL)`
}

/** The condition on an item's key; an item that the asker may not see is tied to nothing. */
function itemCondition(ctx: ServiceContext, who: Who, ends: { kind: string; id: string }) {
  return (part: { comparison: string; value: string }, bound: Bound): string => {
    const key = part.value.toUpperCase()
    const holds = maySee(ctx.db, who, key) ? tiedTo(ends.kind, ends.id, bound(key)) : '0'
    return part.comparison === '!=' ? `NOT ${holds}` : holds
  }
}

function commitDialect(ctx: ServiceContext, who: Who): FilterDialect<CommitField, CommitFlag> {
  const ends = { kind: 'commit', id: "c.repository || '/' || c.sha" }
  const onItem = itemCondition(ctx, who, ends)
  return {
    flags: {
      tied: tiedTo(ends.kind, ends.id, null),
      untied: `NOT ${tiedTo(ends.kind, ends.id, null)}`,
      merge: 'json_array_length(c.parents) > 1',
      revert: "c.reverts <> '[]'",
      excused: 'EXISTS (SELECT 1 FROM commit_excuse e WHERE e.repository = c.repository AND e.sha = c.sha)',
    },
    words: (text, bound) => `c.message LIKE ${bound(likeAnywhere(text))} ESCAPE '\\'`,
    compare: (part: Compared<CommitField>, bound) => {
      switch (part.field) {
        case 'repository':
          return `c.repository ${SQL_OPERATOR[part.comparison]} ${bound(part.value)} COLLATE NOCASE`
        case 'author':
          return (
            `(${contains('c.author_name', part, bound)} ${part.comparison === '!=' ? 'AND' : 'OR'} ` +
            `${contains('c.author_email', part, bound)})`
          )
        case 'path':
          return pathCondition(part, bound)
        case 'made':
          return compareAge('c.committed_at_ms', part, bound, ctx.nowMs())
        case 'item':
          return onItem(part, bound)
      }
    },
  }
}

/** Cheap first: most commits do not hold the text anywhere in what is kept of their files. */
function pathCondition(part: Compared<CommitField>, bound: Bound): string {
  const holds = `(c.files LIKE ${bound(likeAnywhere(part.value))} ESCAPE '\\' AND EXISTS (SELECT 1 FROM json_each(c.files) f
    WHERE json_extract(f.value, '$.path') LIKE ${bound(likeAnywhere(part.value))} ESCAPE '\\'))`
  return part.comparison === '!=' ? `NOT ${holds}` : holds
}

function pullRequestDialect(ctx: ServiceContext, who: Who): FilterDialect<PullRequestField, PullRequestFlag> {
  const ends = { kind: 'pull-request', id: "p.repository || '/' || p.number" }
  const onItem = itemCondition(ctx, who, ends)
  return {
    flags: {
      open: "p.state = 'open'",
      merged: "p.state = 'merged'",
      closed: "p.state = 'closed'",
      tied: tiedTo(ends.kind, ends.id, null),
      untied: `NOT ${tiedTo(ends.kind, ends.id, null)}`,
    },
    words: (text, bound) =>
      `(p.title LIKE ${bound(likeAnywhere(text))} ESCAPE '\\' OR p.body LIKE ${bound(likeAnywhere(text))} ESCAPE '\\')`,
    compare: (part, bound) => {
      switch (part.field) {
        case 'repository':
          return `p.repository ${SQL_OPERATOR[part.comparison]} ${bound(part.value)} COLLATE NOCASE`
        case 'author':
          return contains('p.author', part, bound)
        case 'branch':
          return contains('p.head', part, bound)
        case 'into':
          return contains('p.base', part, bound)
        case 'number':
          return `p.number ${SQL_OPERATOR[part.comparison]} ${bound(Number(part.value))}`
        case 'opened':
          return compareAge('p.created_at_ms', part, bound, ctx.nowMs())
        case 'updated':
          return compareAge('p.updated_at_ms', part, bound, ctx.nowMs())
        case 'item':
          return onItem(part, bound)
      }
    },
  }
}

function branchDialect(ctx: ServiceContext, who: Who): FilterDialect<BranchField, BranchFlag> {
  const ends = { kind: 'branch', id: "b.repository || '/' || b.name" }
  const onItem = itemCondition(ctx, who, ends)
  return {
    flags: {
      tied: tiedTo(ends.kind, ends.id, null),
      untied: `NOT ${tiedTo(ends.kind, ends.id, null)}`,
      rewritten: 'b.forced_at_ms IS NOT NULL',
      main: 'b.is_main = 1',
    },
    words: (text, bound) => `b.name LIKE ${bound(likeAnywhere(text))} ESCAPE '\\'`,
    compare: (part, bound) => {
      switch (part.field) {
        case 'repository':
          return `b.repository ${SQL_OPERATOR[part.comparison]} ${bound(part.value)} COLLATE NOCASE`
        case 'moved':
          return compareAge('b.moved_at_ms', part, bound, ctx.nowMs())
        case 'item':
          return onItem(part, bound)
      }
    },
  }
}
