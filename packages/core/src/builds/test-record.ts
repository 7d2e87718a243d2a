import { type Share, shareOf } from '#basics/share'
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
