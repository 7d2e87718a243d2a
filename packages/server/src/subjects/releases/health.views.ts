import type { ReleaseHealth } from '@dystracer/core/releases/contents-wire'
import { judgeHealth, type Load } from '@dystracer/core/releases/judge-health'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { COUNT_FAILURES, COUNT_UNITS, GET_FAULT, GET_RUNNING_SINCE, LIST_NEW_FAULT, LIST_PRODUCTION } from './health.queries.js'
import { releaseBefore } from './release-order.js'
import { requireRelease } from './releases.views.js'

const MINUTE_MS = 60_000
/** So far back it is counted what a release did that nobody saw begin. */
const LOOK_BACK_MS = 30 * 86_400_000

/**
 * How a release does in production against the one that it builds on: failures (errors and worse) for the units of work that its telemetry
 * tells, with an interval, and the faults that nobody had seen before it. Throws `not-found`.
 */
export function readReleaseHealth(ctx: ServiceContext, text: string): ReleaseHealth {
  const { service, name: release, repository, sha } = requireRelease(ctx, text)
  const environments = JSON.stringify(
    sql(ctx.db, LIST_PRODUCTION)
      .all<{ name: string }>({})
      .map((row) => row.name),
  )
  const before = releaseBefore(ctx, { repository, service, name: release, sha })
  const sinceOf = (name: string) =>
    sql(ctx.db, GET_RUNNING_SINCE).get<{ atMs: number | null }>({ service, release: name, environments })?.atMs ?? null
  const loadOf = (name: string): Load => ({
    failures: sql(ctx.volume, COUNT_FAILURES).get<{ count: number }>({ service, release: name, environments })?.count ?? 0,
    units:
      sql(ctx.volume, COUNT_UNITS).get<{ count: number }>({
        service,
        release: name,
        environments,
        // As long as it ran: what failed is counted as long, too.
        fromMinute: Math.floor((sinceOf(name) ?? ctx.nowMs() - LOOK_BACK_MS) / MINUTE_MS),
      })?.count ?? 0,
  })
  const since = sinceOf(release)
  const newFaults = newFaultsOf(ctx, { service, release, environments })
  const after = loadOf(release)
  const judged = judgeHealth(after, before ? loadOf(before.name) : { failures: 0, units: 0 }, newFaults.length)
  const hasRun = since !== null || after.units > 0 || after.failures > 0
  return {
    ...judged,
    verdict: hasRun ? judged.verdict : 'not-run',
    reasons: hasRun ? judged.reasons : [],
    against: before?.name ?? null,
    newFaults,
    firstBadMs: newFaults[0]?.atMs ?? null,
    runningSinceMs: since,
  }
}

function newFaultsOf(ctx: ServiceContext, place: { service: string; release: string; environments: string }): ReleaseHealth['newFaults'] {
  return sql(ctx.volume, LIST_NEW_FAULT)
    .all<{ fingerprint: string; atMs: number; occurrences: number }>(place)
    .flatMap(({ fingerprint, atMs, occurrences }) => {
      const fault = sql(ctx.db, GET_FAULT).get<{ number: number; type: string; message: string }>({ fingerprint })
      return fault ? [{ fault: `F-${fault.number}`, type: fault.type, message: fault.message.slice(0, 300), atMs, occurrences }] : []
    })
}
