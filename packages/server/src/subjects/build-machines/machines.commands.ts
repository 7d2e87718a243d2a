import type { TakenBuild, zAskForBuild, zAtBuild, zBuildEnd } from '@dystracer/core/build-machines/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { fetchUrl } from '#subjects/git/index'
import { GET_LAST_NUMBER, LIST_OPEN_WANTED, type WantedRow } from './build-machines.queries.js'
import { requireConnected, requireWanted } from './build-machines.views.js'
import { descriptionAt } from './descriptions.js'
import { MACHINES } from './machines.js'
import { subjectsOf } from './wanted.commands.js'

/** A machine that is silent for so long has lost its build. */
const LOST_AFTER_MS = 180_000
const LOOK_EVERY_MS = 30_000
/** What machines tell is told by the builds' own source. */
const ACTOR = 'source:build-service'

/**
 * Gives the build that waits longest of those that a machine may take, with what to do; null where none waits, nor is wanted while its
 * patience lasts. `mayTake` says of which repositories the machine's token speaks; `signal` that nobody listens any more. A build is given
 * to one machine, however many ask at once.
 */
export async function takeWantedBuild(
  ctx: ServiceContext,
  { machine, repositories, patienceMs }: z.output<typeof zAskForBuild>,
  { mayTake, signal }: { mayTake: (repository: string) => boolean; signal: AbortSignal },
): Promise<TakenBuild | null> {
  const untilMs = performance.now() + patienceMs
  const see = (wantedId: string | null) => ctx.use(MACHINES).see({ name: machine, lastSeenAtMs: ctx.nowMs(), repositories, wantedId })
  see(null)
  const isMeant = ({ repository }: WantedRow) => (repositories.length === 0 || repositories.includes(repository)) && mayTake(repository)
  for (;;) {
    const row = sql(ctx.db, LIST_OPEN_WANTED)
      .all<WantedRow>({})
      .find((open) => open.takenAtMs === null && isMeant(open))
    if (!row) {
      const leftMs = untilMs - performance.now()
      if (leftMs <= 0 || !(await isWantedWithin(ctx, leftMs, signal))) return null
      continue
    }
    const { wantedId, repository, sha, branch, again } = row
    const { text, plan, problems } = await descriptionAt(ctx, repository, sha)
    // Another machine may have asked while the file was read.
    const now = requireWanted(ctx, wantedId)
    if (now.takenAtMs !== null || now.endedAtMs !== null) continue
    const number = ctx.journal.write((writer) => {
      const next = again ?? (sql(ctx.db, GET_LAST_NUMBER).get<{ number: number }>({ repository })?.number ?? 0) + 1
      writer.append({
        kind: 'build-taken',
        actor: ACTOR,
        subjects: subjectsOf(repository, next),
        body: { wantedId, machine, number: next },
      })
      return next
    })
    see(wantedId)
    const { url } = requireConnected(ctx, repository)
    const missing = { line: null, text: 'this commit has no .dystracer/build.yml that says how it is built' }
    return {
      wantedId,
      repository,
      url: fetchUrl(ctx, url),
      sha,
      branch,
      build: String(number),
      plan,
      problems: text === null ? [missing] : problems,
    }
  }
}

/** Resolves to true once something is wanted, to false when the time is over or nobody listens any more. */
function isWantedWithin(ctx: ServiceContext, durationMs: number, signal: AbortSignal): Promise<boolean> {
  return new Promise((resolve) => {
    const end = (isWanted: boolean) => {
      clearTimeout(timer)
      stopListening()
      signal.removeEventListener('abort', onAbort)
      resolve(isWanted)
    }
    const onAbort = () => end(false)
    const timer = setTimeout(() => end(false), durationMs)
    const stopListening = ctx.journal.onCommit((entries) => {
      if (entries.some(({ kind }) => kind === 'build-wanted')) end(true)
    })
    signal.addEventListener('abort', onAbort)
    if (signal.aborted) onAbort()
  })
}

/** Notes that a machine is at its build; says whether somebody wants it stopped. Throws `not-found` for a build that it does not have. */
export function beatOfBuild(
  ctx: ServiceContext,
  { machine, wantedId }: z.output<typeof zAtBuild>,
  mayTake: (repository: string) => boolean,
): { isStopWanted: boolean } {
  const row = requireTaken(ctx, { machine, wantedId }, mayTake)
  ctx.use(MACHINES).see({ name: machine, lastSeenAtMs: ctx.nowMs(), repositories: [], wantedId })
  return { isStopWanted: row.isStopWanted === 1 || (row.endedAtMs !== null && row.outcome !== 'lost') }
}

/** Notes how a machine's build ended; said twice it is said once. Throws `not-found` for a build that it does not have. */
export function endWantedBuild(
  ctx: ServiceContext,
  { machine, wantedId, outcome }: z.output<typeof zBuildEnd>,
  mayTake: (repository: string) => boolean,
): void {
  const row = requireTaken(ctx, { machine, wantedId }, mayTake)
  ctx.use(MACHINES).see({ name: machine, lastSeenAtMs: ctx.nowMs(), repositories: [], wantedId: null })
  // A machine that was thought lost and comes back knows better.
  if (row.endedAtMs !== null && row.outcome !== 'lost') return
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'wanted-build-ended',
      actor: ACTOR,
      subjects: subjectsOf(row.repository, row.number),
      body: { wantedId, outcome },
    })
  })
}

function requireTaken(
  ctx: ServiceContext,
  { machine, wantedId }: { machine: string; wantedId: string },
  mayTake: (repository: string) => boolean,
): WantedRow {
  const row = requireWanted(ctx, wantedId)
  if (row.machine !== machine || !mayTake(row.repository))
    throw new Problem('not-found', { detail: 'No such build was given to this machine.' })
  return row
}

/** Ends builds whose machines are silent, and says so; by the clock. */
export function startWatchingMachines(ctx: ServiceContext): void {
  ctx.use(MACHINES)
  ctx.jobs.every({ name: 'looking after build machines', everyMs: LOOK_EVERY_MS, run: () => endLostBuilds(ctx) })
}

/** Ends the builds of machines that were not heard of for three minutes. */
export function endLostBuilds(ctx: ServiceContext): void {
  const nowMs = ctx.nowMs()
  for (const row of sql(ctx.db, LIST_OPEN_WANTED).all<WantedRow>({})) {
    const { wantedId, repository, sha, branch, number, takenAtMs } = row
    if (takenAtMs === null || number === null) continue
    if (nowMs - Math.max(takenAtMs, ctx.use(MACHINES).lastWordOf(wantedId)) < LOST_AFTER_MS) continue
    ctx.journal.write((writer) => {
      const entry = { actor: 'system', subjects: subjectsOf(repository, number) }
      writer.append({ ...entry, kind: 'wanted-build-ended', body: { wantedId, outcome: 'lost' } })
      writer.append({
        ...entry,
        kind: 'build-finished',
        source: `build:${repository}/${number}`,
        body: { repository, number, sha, branch, state: 'stopped', startedAtMs: takenAtMs },
      })
    })
  }
}
