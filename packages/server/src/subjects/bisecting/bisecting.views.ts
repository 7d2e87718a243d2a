import { nextStep, type NextStep, type Verdict } from '@dystracer/core/bisecting/bisect'
import type { Bisection } from '@dystracer/core/bisecting/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import { firstLine } from '@dystracer/core/text/first-line'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { getCommit, graphOf } from '#subjects/code/index'
import { visibleItemsTiedTo } from '#subjects/records/index'
import {
  GET_BISECTION,
  LIST_BISECTIONS_OF_REPOSITORY,
  LIST_OUTCOMES_AT_COMMITS,
  LIST_WANTED_SINCE,
  type BisectionRow,
} from './bisecting.queries.js'

const SHOWN_MAX = 20
const PERSON = /^person:/
/** More commits than this lie between no two builds that anybody would search through one by one. */
export const BETWEEN_MAX = 5000

/** A search by its id, of its repository. Throws `not-found`. */
export function requireBisection(ctx: Pick<ServiceContext, 'db'>, repository: string, bisectionId: string): BisectionRow {
  const row = sql(ctx.db, GET_BISECTION).get<BisectionRow>({ bisectionId })
  if (row?.repository !== repository) throw new Problem('not-found', { detail: 'There is no such search.' })
  return row
}

/** The commits that may have broken the test, the oldest first, the first bad one last. Empty where they are not here any more. */
export function commitsBetween(
  ctx: Pick<ServiceContext, 'db' | 'use'>,
  { repository, good, bad }: Pick<BisectionRow, 'repository' | 'good' | 'bad'>,
): string[] {
  const graph = graphOf(ctx, repository)
  if (!graph.has(good) || !graph.has(bad)) return []
  return graph.inOrder([...graph.between([bad], [good])].filter((sha) => sha !== bad)).concat(bad)
}

/** What is known of a search: what builds said of each commit, what is being built, and what to do next. */
export interface Standing {
  told: Bisection['told']
  building: { wantedId: string; sha: string; number: number | null } | null
  /** Asked only of a search under way. */
  next: () => NextStep
}

/** Where a search stands, from the builds alone: whoever wanted them, and whenever. Cost: one look for each commit between. */
export function standingOf(ctx: Pick<ServiceContext, 'db' | 'use'>, row: BisectionRow): Standing {
  const { repository, suite, name } = row
  const graph = graphOf(ctx, repository)
  const between = commitsBetween(ctx, row)
  const said = new Map<string, { verdict: Verdict; build: number | null }>()
  const outcomes = sql(ctx.db, LIST_OUTCOMES_AT_COMMITS).all<{ sha: string; number: number; outcome: string }>({
    repository,
    shas: JSON.stringify(between),
    suite,
    name,
  })
  for (const { sha, number, outcome } of outcomes) {
    if (outcome === 'skipped') continue
    const verdict = outcome === 'passed' ? 'good' : outcome === 'failed' ? 'bad' : 'untold'
    const before = said.get(sha)?.verdict
    said.set(sha, { verdict: before === undefined || before === verdict ? verdict : 'untold', build: number })
  }
  const isBetween = new Set(between)
  let building: Standing['building'] = null
  const wanted = sql(ctx.db, LIST_WANTED_SINCE).all<{ wantedId: string; sha: string; number: number | null; endedAtMs: number | null }>({
    repository,
    sinceMs: row.atMs,
  })
  for (const { wantedId, sha, number, endedAtMs } of wanted) {
    if (!isBetween.has(sha) || said.has(sha)) continue
    // It was built, or somebody stopped it, and the test said nothing there.
    if (endedAtMs !== null) said.set(sha, { verdict: 'untold', build: number })
    else building = { wantedId, sha, number }
  }
  return {
    told: between.flatMap((sha) => {
      const one = said.get(sha)
      return one ? [{ sha, ...one }] : []
    }),
    building,
    next: () =>
      nextStep(
        between.map((sha) => ({ sha, parents: graph.get(sha)?.parents ?? [] })),
        (sha) => said.get(sha)?.verdict,
      ),
  }
}

/** A search as it is answered. */
export function toBisection(ctx: ServiceContext, who: Who, row: BisectionRow): Bisection {
  const { told, building, next } = standingOf(ctx, row)
  const isOpen = row.endedAtMs === null
  const step = isOpen ? next() : null
  return {
    ...row,
    by: PERSON.test(row.by) ? row.by.replace(PERSON, '') : null,
    told,
    left: step?.kind === 'build' ? step.left : 0,
    steps: step?.kind === 'build' ? step.steps : 0,
    building: isOpen && building ? { sha: building.sha, number: building.number } : null,
    guilty: (JSON.parse(row.guilty) as string[]).flatMap((sha) => {
      const commit = getCommit(ctx.db, row.repository, sha)
      if (!commit) return []
      const items = visibleItemsTiedTo(ctx.db, who, { kind: 'commit', id: `${row.repository}/${sha}` })
      return [{ sha, subject: firstLine(commit.message), author: commit.author_name, atMs: commit.committed_at_ms, items }]
    }),
  }
}

/** The searches of a repository, the newest first. */
export function listBisections(ctx: ServiceContext, who: Who, repository: string): { rows: Bisection[] } {
  const rows = sql(ctx.db, LIST_BISECTIONS_OF_REPOSITORY).all<BisectionRow>({ repository, limit: SHOWN_MAX })
  const open = rows.filter(({ endedAtMs }) => endedAtMs === null)
  return { rows: [...open, ...rows.filter((row) => !open.includes(row))].map((row) => toBisection(ctx, who, row)) }
}
