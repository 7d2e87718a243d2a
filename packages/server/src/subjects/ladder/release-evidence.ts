import { namesKey } from '@dystracer/core/text/references'
import type { FaultSilence, LadderInput, ProductionRun } from '@dystracer/core/ladder/ladder-input'
import { judgeSilence } from '@dystracer/core/ladder/silence'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { containsAll, graphOf } from '#subjects/code/index'
import { projectOf } from '#subjects/people/index'
import {
  GET_COUNT_OF_ACTIVITY_MINUTE_BY_SERVICE_AND_FROM,
  GET_FAULT_BY_NUMBER,
  GET_FAULT_GROUP_BY_FINGERPRINT,
  GET_FAULT_RELEASE_BY_FINGERPRINT_AND_FIXED,
  GET_SILENCE_MS_OF_PROJECT_BY_PROJECT,
  GET_SINCE_MS_OF_DEPLOYMENT_BY_SERVICE_AND_FIXED,
  HAS_ENVIRONMENT,
  LIST_RELEASE_BY_REPOSITORY,
  LIST_DONE_FOR_ITEM,
  LIST_RELEASE_BY_SERVICE_AND_RELEASE,
  LIST_SERVICE_BY_REPOSITORY,
} from './ladder-evidence.queries.js'

/** What evidence is read from. */
export type Reading = Pick<ServiceContext, 'db' | 'volume' | 'use' | 'nowMs'>

interface ReleaseRow {
  service: string
  name: string
  sha: string
  at_ms: number
  repository: string
}

function releasesOf(ctx: Reading, repository: string): ReleaseRow[] {
  return sql(ctx.db, LIST_RELEASE_BY_REPOSITORY).all<ReleaseRow>({ repository })
}

/** The releases of touched services that hold the whole fix, oldest first. */
export function readContainingReleases(
  ctx: Reading,
  patches: ReadonlyMap<string, string[]>,
  touched: ReadonlySet<string>,
): LadderInput['containingReleases'] {
  return [...patches].flatMap(([repository, patchIds]) =>
    releasesOf(ctx, repository)
      .filter((release) => touched.has(release.service) && containsAll(graphOf(ctx, repository), release.sha, patchIds))
      .map((release) => ({ service: release.service, release: release.name, atMs: release.at_ms })),
  )
}

/** What runs in production now, for each service that the fix touches. */
export function readProduction(ctx: Reading, patches: ReadonlyMap<string, string[]>, touched: ReadonlySet<string>): ProductionRun[] | null {
  const hasProduction = sql(ctx.db, HAS_ENVIRONMENT).get({})
  if (!hasProduction) return null
  const runs: ProductionRun[] = []
  for (const [repository, patchIds] of patches) {
    const graph = graphOf(ctx, repository)
    const rows = sql(ctx.db, LIST_SERVICE_BY_REPOSITORY).all<{
      service: string
      release: string
      environment: string
      running_at_ms: number
      state: string
      sha: string | null
    }>({ repository })
    for (const now of rows.filter((row) => row.state === 'running' && touched.has(row.service))) {
      const contains = (sha: string | null) => sha !== null && containsAll(graph, sha, patchIds)
      const isOlderWithFix = rows.some(
        (row) => row.state !== 'running' && row.service === now.service && row.environment === now.environment && contains(row.sha),
      )
      runs.push({
        environment: now.environment,
        service: now.service,
        release: now.release,
        atMs: now.running_at_ms,
        containsFix: contains(now.sha),
        isRolledBack: isOlderWithFix && !contains(now.sha),
      })
    }
  }
  return runs
}

/**
 * Results of the tests whose name bears the item's key, and of test cases that verify it, on the
 * newest containing release that was built.
 */
export function readVerifyingTests(
  ctx: Reading,
  key: string,
  containing: LadderInput['containingReleases'],
): LadderInput['verifyingTests'] {
  const newest = containing.at(-1)
  if (!newest) return []
  const byProgram = sql(ctx.db, LIST_RELEASE_BY_SERVICE_AND_RELEASE)
    .all<{ name: string; outcome: string }>({ service: newest.service, release: newest.release, key })
    .filter((row) => namesKey(row.name, key))
    .map((row) => ({ name: row.name, passed: row.outcome === 'passed', release: newest.release }))
  const byHand = sql(ctx.db, LIST_DONE_FOR_ITEM)
    .all<{ number: number; environment: string; outcome: string }>({
      project: projectOf(key),
      key,
      release: `${newest.service}@${newest.release}`,
    })
    .filter(({ outcome }) => outcome === 'passed' || outcome === 'failed')
    .map((row) => ({ name: `case ${row.number} in ${row.environment}`, passed: row.outcome === 'passed', release: newest.release }))
  return [...byProgram, ...byHand]
}

/** For each fault of an item, what its silence since the fix was released proves; empty while no release has the fix. */
export function readSilences(
  ctx: Reading,
  { project, faults }: { project: string; faults: ReadonlySet<string> },
  containing: LadderInput['containingReleases'],
): FaultSilence[] {
  const neededMs = sql(ctx.db, GET_SILENCE_MS_OF_PROJECT_BY_PROJECT).get<{ silence_ms: number }>({ project })?.silence_ms ?? 0
  return [...faults].flatMap((fault) => {
    const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ fingerprint: string; service: string }>({
      number: Number(fault.slice(2)),
    })
    return row && containing.length > 0 ? [readSilence(ctx, fault, row, containing, neededMs)] : []
  })
}

function readSilence(
  ctx: Reading,
  fault: string,
  { fingerprint, service }: { fingerprint: string; service: string },
  containing: LadderInput['containingReleases'],
  neededMs: number,
): FaultSilence {
  const fixed = JSON.stringify(containing.filter((release) => release.service === service).map((release) => release.release))
  const seen =
    sql(ctx.volume, GET_FAULT_RELEASE_BY_FINGERPRINT_AND_FIXED).get<{ release: string; environment: string; atMs: number }>({
      fingerprint,
      fixed,
    }) ?? null
  const since =
    sql(ctx.db, GET_SINCE_MS_OF_DEPLOYMENT_BY_SERVICE_AND_FIXED).get<{ sinceMs: number | null }>({ service, fixed })?.sinceMs ?? null
  const span = sql(ctx.volume, GET_FAULT_GROUP_BY_FINGERPRINT).get<{
    first_at_ms: number
    last_at_ms: number
    count: number
  }>({ fingerprint })
  const before = span ? countActivity(ctx, { service, fixed, isFixed: false, fromMs: span.first_at_ms, toMs: span.last_at_ms }) : 0
  const exercised = since === null ? 0 : countActivity(ctx, { service, fixed, isFixed: true, fromMs: since, toMs: ctx.nowMs() })
  const verdict = judgeSilence({
    nowMs: ctx.nowMs(),
    fixedSinceMs: since,
    lastSeenInFixedRelease: seen,
    neededMs,
    exercisedSince: exercised,
    requestsPerOccurrence: span && before > 0 ? before / span.count : null,
  })
  return { fault, verdict, sinceMs: since, neededMs, exercised, seenIn: seen }
}

function countActivity(ctx: Reading, input: { service: string; fixed: string; isFixed: boolean; fromMs: number; toMs: number }): number {
  return (
    sql(ctx.volume, GET_COUNT_OF_ACTIVITY_MINUTE_BY_SERVICE_AND_FROM).get<{ count: number }>({
      service: input.service,
      from: Math.floor(input.fromMs / 60_000),
      to: Math.floor(input.toMs / 60_000),
      fixed: input.fixed,
      isFixed: Number(input.isFixed),
      fromMs: input.fromMs,
    })?.count ?? 0
  )
}
