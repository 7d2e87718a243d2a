import type { Bisection } from '@dystracer/core/bisecting/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { appendWanted, requireConnected, stopWantedBuild } from '#subjects/build-machines/index'
import { breakOf, requireBuild } from '#subjects/builds/index'
import { LIST_OPEN_BISECTIONS, type BisectionRow } from './bisecting.queries.js'
import { BETWEEN_MAX, commitsBetween, requireBisection, standingOf, toBisection } from './bisecting.views.js'

/** What may bring a search forward: results that came, and builds that ended without any. */
const BRINGS_FORWARD: ReadonlySet<string> = new Set(['build-finished', 'tests-reported', 'wanted-build-ended'])
const LOOK_EVERY_MS = 60_000

/**
 * Begins to search for the commit that broke a test; one that is under way for the same is that one. Throws `not-found` for a build that is
 * not there, `conflict` where it cannot be searched, with what to do.
 */
export function beginBisection(
  ctx: ServiceContext,
  who: Who,
  { repository, build: number, suite, name }: { repository: string; build: number; suite: string; name: string },
): Bisection {
  requireConnected(ctx, repository)
  const build = requireBuild(ctx, repository, number)
  const between = breakOf(ctx, build, { suite, name })
  if (between === null)
    throw new Problem('conflict', {
      detail: `No build is known in which ${name} passed before it failed here; build an older commit first.`,
    })
  const known = sql(ctx.db, LIST_OPEN_BISECTIONS)
    .all<BisectionRow>({})
    .find((row) => row.repository === repository && row.suite === suite && row.name === name && row.bad === between.bad)
  if (known) return toBisection(ctx, who, known)
  const bisectionId = ctx.newId()
  const body = { bisectionId, repository, suite, name, ...between, build: number }
  const count = commitsBetween(ctx, body).length
  if (count === 0) throw new Problem('conflict', { detail: 'The commits between are not here; Code says when the repository was fetched.' })
  if (count > BETWEEN_MAX) throw new Problem('conflict', { detail: `${count} commits lie between, ${BETWEEN_MAX} at most are searched.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'bisection-begun', actor: who.actor, subjects: subjectsOf(body), body })
  })
  goOn(ctx, requireBisection(ctx, repository, bisectionId))
  return toBisection(ctx, who, requireBisection(ctx, repository, bisectionId))
}

/** Calls a search off, and stops what is being built for it; one that ended stays as it is. Throws `not-found`. */
export function callOffBisection(ctx: ServiceContext, who: Who, repository: string, bisectionId: string): Bisection {
  const row = requireBisection(ctx, repository, bisectionId)
  if (row.endedAtMs === null) {
    const { building } = standingOf(ctx, row)
    ctx.journal.write((writer) => {
      const body = { bisectionId, outcome: 'called-off' as const, guilty: [] }
      writer.append({ kind: 'bisection-ended', actor: who.actor, subjects: subjectsOf(row), body })
    })
    if (building) stopWantedBuild(ctx, who, repository, building.wantedId)
  }
  return toBisection(ctx, who, requireBisection(ctx, repository, bisectionId))
}

function subjectsOf({ repository, build }: { repository: string; build: number }): string[] {
  return [`build:${repository}/${build}`, `repository:${repository}`]
}

/** Wants the next build, or says what was found; does nothing while something is being built for it. */
function goOn(ctx: ServiceContext, row: BisectionRow): void {
  const { bisectionId, repository, by } = row
  const standing = standingOf(ctx, row)
  const next = standing.next()
  if (next.kind === 'known') {
    const outcome = next.guilty.length === 0 ? 'gone' : 'found'
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'bisection-ended',
        actor: 'system',
        subjects: [...subjectsOf(row), ...next.guilty.slice(0, 1).map((sha) => `commit:${repository}/${sha}`)],
        body: { bisectionId, outcome, guilty: next.guilty },
      })
    })
  } else if (standing.building === null)
    ctx.journal.write((writer) => {
      appendWanted(ctx, writer, { actor: by, repository, sha: next.sha, branch: '', again: null, isByPush: false })
    })
}

/** Goes on with each search that is under way. */
export function goOnWithAll(ctx: ServiceContext, isMeant: (row: BisectionRow) => boolean = () => true): void {
  for (const row of sql(ctx.db, LIST_OPEN_BISECTIONS).all<BisectionRow>({})) if (isMeant(row)) goOn(ctx, row)
}

/** Goes on with searches once builds bring them forward; after a start, with those that were under way. */
export function startBisecting(ctx: ServiceContext): void {
  ctx.journal.onCommit((entries) => {
    const moved = entries.filter(({ kind }) => BRINGS_FORWARD.has(kind))
    if (moved.length === 0 || sql(ctx.db, LIST_OPEN_BISECTIONS).all({}).length === 0) return
    const repositories = new Set(moved.map(({ body }) => (body as { repository?: string }).repository))
    // An end of a wanted build does not say of which repository it is: then all are looked at.
    ctx.background.add(
      Promise.resolve().then(() => goOnWithAll(ctx, (row) => repositories.has(undefined) || repositories.has(row.repository))),
      'searches for what broke a test',
    )
  })
  ctx.jobs.every({ name: 'searching for what broke tests', everyMs: LOOK_EVERY_MS, run: () => goOnWithAll(ctx) })
}
