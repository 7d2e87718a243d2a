import { type FaultState, stateOf } from '@dystracer/core/faults/fault-state'
import type { FaultStand } from '@dystracer/core/faults/fault-stand'
import { RETURNS_AFTER_MS } from '@dystracer/core/faults/run-rules'
import { hoursLike, type Spike, spikeAt } from '@dystracer/core/faults/spike'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { COUNT_HOUR, GET_FIRST_DAY_SINCE, GET_LAST_DAY_BEFORE, LIST_HOUR } from './fault-state.queries.js'

const HOUR_MS = 3_600_000
const DAY_MS = 24 * HOUR_MS
/** A spike is told while its hour has not long gone. */
const TOLD_FOR_MS = 3 * HOUR_MS
/** The past is only looked at where an hour has at least so many: fewer are no spike. */
const WORTH_A_LOOK = 8

interface Seen {
  fingerprint: string
  firstAtMs: number
  lastAtMs: number
  count: number
  releases: readonly string[]
  hasComeBack: boolean
}

/** How a fault stands now, and the numbers of a spike where there is one. */
export function readState(ctx: ServiceContext, seen: Seen, stand: FaultStand): { state: FaultState; spike: Spike | null } {
  const nowMs = ctx.nowMs()
  const spike = spikeNow(ctx, seen, nowMs)
  const state = stateOf({ ...seen, lastBeforeMs: returnedAfter(ctx, seen.fingerprint, nowMs), spike }, stand, {
    nowMs,
    count: seen.count,
    releases: seen.releases,
    isSpike: () => spike !== null,
  })
  return { state, spike }
}

/** Whether the hour in which it was last seen stands out, as long as that is of interest. */
function spikeNow(ctx: ServiceContext, { fingerprint, firstAtMs, lastAtMs }: Seen, nowMs: number): Spike | null {
  if (nowMs - lastAtMs > TOLD_FOR_MS) return null
  const hour = Math.floor(lastAtMs / HOUR_MS)
  const { count } = sql(ctx.volume, COUNT_HOUR).get<{ count: number }>({ fingerprint, fromMinute: hour * 60 }) ?? { count: 0 }
  if (count < WORTH_A_LOOK) return null
  const firstHour = Math.floor(firstAtMs / HOUR_MS)
  const hours = new Map(
    sql(ctx.volume, LIST_HOUR)
      .all<{ hour: number; count: number }>({ fingerprint, runs: JSON.stringify(runsOf([hour, ...hoursLike(firstHour, hour)])) })
      .map((row) => [row.hour, row.count]),
  )
  return spikeAt((of) => hours.get(of) ?? 0, firstHour, hour)
}

/** Hours that follow each other as runs, each from its first to the hour after its last. */
function runsOf(hours: readonly number[]): [number, number][] {
  const runs: [number, number][] = []
  for (const hour of [...hours].sort((a, b) => a - b)) {
    const last = runs.at(-1)
    if (last?.[1] === hour) last[1] = hour + 1
    else runs.push([hour, hour + 1])
  }
  return runs
}

/** When it was seen before it fell silent, where it returned within the last week; null where it did not. */
function returnedAfter(ctx: ServiceContext, fingerprint: string, nowMs: number): number | null {
  const quietDays = RETURNS_AFTER_MS / DAY_MS
  const today = Math.floor(nowMs / DAY_MS)
  const back = sql(ctx.volume, GET_FIRST_DAY_SINCE).get<{ day: number | null }>({ fingerprint, day: today - quietDays + 1 })?.day ?? null
  if (back === null) return null
  const before = sql(ctx.volume, GET_LAST_DAY_BEFORE).get<{ day: number | null }>({ fingerprint, day: back })?.day ?? null
  return before !== null && back - before > quietDays ? before * DAY_MS : null
}
