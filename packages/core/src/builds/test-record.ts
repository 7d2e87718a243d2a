import { type Share, shareOf } from '#basics/share'
import { groupBy } from '#basics/group-by'
import { median } from '#basics/median'
import { maskMessage } from '#traces/mask-message'

/** One outcome of a test, in one build. */
export interface TestOutcome {
  outcome: 'passed' | 'failed' | 'skipped' | 'flaky'
  durationMs: number
  message: string
}
/** Where a test began to take another time. */
export interface DurationChange {
  /** Place of the first outcome after the change. */
  at: number
  beforeMs: number
  afterMs: number
}

/** One outcome of a test with where and when it ran. */
export interface PlacedOutcome {
  outcome: TestOutcome['outcome']
  host: string | null
  position: number | null
  atMs: number
}
/** What an outcome may hang on. */
export const CONDITIONS = ['machine', 'hours', 'order'] as const
/** How often a test did not simply pass, under one condition. */
export interface ConditionShare {
  by: (typeof CONDITIONS)[number]
  value: string
  share: Share
  /** Whether it is seldom enough under all the others that chance does not explain it. */
  standsOut: boolean
}

/** Fewer runs under a condition say nothing of it. */
const CONDITION_RUNS_MIN = 5
const HOUR_MS = 3_600_000
const DAY_HOURS = 24
const SPAN_HOURS = 6

/**
 * How often a test did not simply pass, by the machine that it ran on, by the time of day (UTC, in quarters of a day), and by whether it
 * ran early or late among the tests of its report. Only what has at least two values with five runs each is told. One stands out whose
 * interval (Wilson) lies above that of all other runs together. O(n log n).
 */
export function byCondition(outcomes: readonly PlacedOutcome[]): ConditionShare[] {
  const runs = outcomes.filter(({ outcome }) => outcome !== 'skipped')
  const places = runs.flatMap(({ position }) => (position === null ? [] : [position]))
  const middle = places.length > 0 ? median(places) : 0
  const valueUnder: Record<ConditionShare['by'], (run: PlacedOutcome) => string | null> = {
    machine: ({ host }) => host,
    hours: ({ atMs }) => {
      const from = Math.floor(((atMs / HOUR_MS) % DAY_HOURS) / SPAN_HOURS) * SPAN_HOURS
      return `${String(from).padStart(2, '0')}–${String(from + SPAN_HOURS).padStart(2, '0')} h UTC`
    },
    order: ({ position }) => (position === null || position === middle ? null : position < middle ? 'early' : 'late'),
  }
  return CONDITIONS.flatMap((by) => sharesBy(by, runs, valueUnder[by]))
}

function sharesBy(
  by: ConditionShare['by'],
  runs: readonly PlacedOutcome[],
  valueUnder: (run: PlacedOutcome) => string | null,
): ConditionShare[] {
  const groups = [
    ...groupBy(
      runs.filter((run) => valueUnder(run) !== null),
      (run) => valueUnder(run) ?? '',
    ),
  ].filter(([, those]) => those.length >= CONDITION_RUNS_MIN)
  if (groups.length < 2) return []
  const wavers = (those: readonly PlacedOutcome[]) => those.filter(({ outcome }) => outcome !== 'passed').length
  const [all, bad] = [groups.flatMap(([, those]) => those), wavers(groups.flatMap(([, those]) => those))]
  return groups
    .flatMap(([value, those]): ConditionShare[] => {
      const share = shareOf(wavers(those), those.length)
      const others = shareOf(bad - wavers(those), all.length - those.length)
      return share ? [{ by, value, share, standsOut: others !== null && share.from > others.to }] : []
    })
    .sort((a, b) => b.share.share - a.share.share || (a.value < b.value ? -1 : 1))
}

/** Fewer outcomes show no change of pace. */
const OUTCOMES_MIN = 12
const SIGNIFICANT = 0.01
/** A change smaller than this share is nobody's trouble. */
const CHANGE_MIN = 0.3

/** How often a test both passed and failed for one commit, among its runs; skipped ones say nothing. */
export function flakiness(outcomes: readonly Pick<TestOutcome, 'outcome'>[]): Share | null {
  const runs = outcomes.filter(({ outcome }) => outcome !== 'skipped')
  return shareOf(runs.filter(({ outcome }) => outcome === 'flaky').length, runs.length)
}

/** With this likelihood a run of passes is no accident. */
const CONFIDENCE = 0.95

/**
 * How many passes in a row show that a test which was flaky at a rate is mended, in 95 of 100 cases: fewer would come about by themselves
 * too often. Null where it was never flaky, since there is nothing to show then.
 */
export function passesToProve(rate01: number): number | null {
  if (rate01 <= 0) return null
  return rate01 >= 1 ? 1 : Math.ceil(Math.log(1 - CONFIDENCE) / Math.log(1 - rate01))
}

/** How many of the newest outcomes are passes without a break; skipped ones say nothing. Outcomes come newest first. */
export function passesInRow(outcomes: readonly Pick<TestOutcome, 'outcome'>[]): number {
  const runs = outcomes.filter(({ outcome }) => outcome !== 'skipped')
  const end = runs.findIndex(({ outcome }) => outcome !== 'passed')
  return end < 0 ? runs.length : end
}

/**
 * What a test said when it failed, without what varies; the most frequent first, each with the place of its
 * newest. Outcomes come newest first.
 */
export function failureMessages(outcomes: readonly TestOutcome[]): { message: string; count: number; newestAt: number }[] {
  const found = new Map<string, { message: string; count: number; newestAt: number }>()
  for (const [at, { outcome, message }] of outcomes.entries()) {
    if (outcome !== 'failed' && outcome !== 'flaky') continue
    const first = message.split('\n').find((line) => line.trim() !== '') ?? ''
    const masked = maskMessage(first.slice(0, 500))
    const known = found.get(masked) ?? { message: masked, count: 0, newestAt: at }
    known.count++
    found.set(masked, known)
  }
  return [...found.values()].sort((a, b) => b.count - a.count || a.newestAt - b.newestAt)
}

/**
 * Where durations, the oldest first, changed for good: the change point of Pettitt (Applied Statistics 28,
 * 1979), by ranks, so that single slow runs do not count; null where chance would do as well (p ≥ 0.01) or
 * the medians differ by less than 30 %. O(n log n).
 */
export function durationChange(durationsMs: readonly number[]): DurationChange | null {
  const n = durationsMs.length
  if (n < OUTCOMES_MIN) return null
  const ranks = ranksOf(durationsMs)
  let sum = 0
  let best = { at: 0, size: 0 }
  for (let at = 1; at < n; at++) {
    sum += ranks[at - 1] ?? 0
    const size = Math.abs(2 * sum - at * (n + 1))
    if (size > best.size) best = { at, size }
  }
  const chance = 2 * Math.exp((-6 * best.size ** 2) / (n ** 3 + n ** 2))
  if (chance >= SIGNIFICANT) return null
  const [beforeMs, afterMs] = [median(durationsMs.slice(0, best.at)), median(durationsMs.slice(best.at))]
  return Math.abs(afterMs - beforeMs) < CHANGE_MIN * Math.max(beforeMs, 1) ? null : { at: best.at, beforeMs, afterMs }
}

/** Ranks from 1; equal values share the mean of theirs. */
function ranksOf(values: readonly number[]): number[] {
  const order = [...values.keys()].sort((a, b) => (values[a] ?? 0) - (values[b] ?? 0))
  const ranks = new Array<number>(values.length).fill(0)
  for (let from = 0; from < order.length; ) {
    let to = from
    while (to + 1 < order.length && values[order[to + 1] ?? 0] === values[order[from] ?? 0]) to++
    for (let at = from; at <= to; at++) ranks[order[at] ?? 0] = (from + to) / 2 + 1
    from = to + 1
  }
  return ranks
}
