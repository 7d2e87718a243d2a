import { groupBy } from '#basics/group-by'
import { type Share, shareOf } from '#basics/share'
import { startOfWeekMs } from '#looking/calendar'

/** A deployment to production: asked for, and what became of it. */
export interface DeliveredDeployment {
  service: string
  deploymentId: string
  release: string
  environment: string
  atMs: number
  /** When it began to run; null where it failed before. */
  runningAtMs: number | null
  /** It failed, or an older release took its place. */
  isBad: boolean
  /** When another release ran there after a bad one; null while none does. */
  restoredAtMs: number | null
}
/** Something that came to production for the first time, and when it was begun. */
export interface Delivered {
  service: string
  /** A commit's hash or an item's key. */
  id: string
  begunAtMs: number
  runningAtMs: number
}
/** How long things take: the middle, and what 85 of 100 stay below; with the longest. Milliseconds. */
export interface Durations {
  count: number
  medianMs: number
  p85Ms: number
  longest: { id: string; ms: number }[]
}
/** What a week saw. */
export interface DeliveryWeek {
  /** Monday, as the time zone of UTC has it. */
  atMs: number
  deployments: number
  bad: number
}
/** How well one service, or all, is delivered. */
export interface DeliveryFigures {
  service: string | null
  deployments: number
  /** Weeks with at least one deployment, of all in the time. */
  perWeek: number
  failures: Share | null
  restore: Durations | null
  commitLead: Durations | null
  itemLead: Durations | null
  weeks: DeliveryWeek[]
}

const WEEK_MS = 7 * 86_400_000
const LONGEST_SHOWN = 5

/**
 * The value below which a share of the values lies, between neighbours by their distance (type 7 of
 * Hyndman and Fan 1996). NaN of nothing.
 */
export function quantile(values: readonly number[], share01: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  const place = (sorted.length - 1) * share01
  const [low, high] = [sorted[Math.floor(place)], sorted[Math.ceil(place)]]
  return low === undefined || high === undefined ? Number.NaN : low + (high - low) * (place - Math.floor(place))
}

/**
 * How well is delivered, for all services together and for each: how often something goes to production, how long a commit takes from being
 * made until it runs there and an item from being logged, what share of deployments fail or are taken back,
 * and how long it takes then until another release runs. Only what began to run (or failed) within the time counts. O(n log n).
 */
export function deliveryFigures(input: {
  deployments: readonly DeliveredDeployment[]
  commits: readonly Delivered[]
  items: readonly Delivered[]
  fromMs: number
  untilMs: number
}): DeliveryFigures[] {
  const isWithin = (atMs: number) => atMs >= input.fromMs && atMs < input.untilMs
  const deployments = input.deployments.filter((one) => isWithin(one.runningAtMs ?? one.atMs))
  const commits = input.commits.filter((one) => isWithin(one.runningAtMs))
  const items = input.items.filter((one) => isWithin(one.runningAtMs))
  const figures = (service: string | null): DeliveryFigures => {
    const own = <One extends { service: string }>(all: readonly One[]) => all.filter((one) => service === null || one.service === service)
    const ours = own(deployments)
    const bad = ours.filter(({ isBad }) => isBad)
    const restored = bad.flatMap(({ service: of, release, atMs, runningAtMs, restoredAtMs }) =>
      restoredAtMs === null ? [] : [{ id: `${of}@${release}`, ms: restoredAtMs - (runningAtMs ?? atMs) }],
    )
    return {
      service,
      deployments: ours.length,
      perWeek: (ours.length * WEEK_MS) / Math.max(1, input.untilMs - input.fromMs),
      failures: shareOf(bad.length, ours.length),
      restore: durations(restored),
      commitLead: durations(own(commits).map(({ id, begunAtMs, runningAtMs }) => ({ id, ms: runningAtMs - begunAtMs }))),
      itemLead: durations(own(items).map(({ id, begunAtMs, runningAtMs }) => ({ id, ms: runningAtMs - begunAtMs }))),
      weeks: weeksOf(ours, input),
    }
  }
  return [null, ...new Set(input.deployments.map(({ service }) => service))].map(figures)
}

function durations(all: readonly { id: string; ms: number }[]): Durations | null {
  if (all.length === 0) return null
  // Clocks of several machines: what seems to have run before it was made took no time.
  const sound = all.map(({ id, ms }) => ({ id, ms: Math.max(0, ms) }))
  const values = sound.map(({ ms }) => ms)
  return {
    count: sound.length,
    medianMs: Math.round(quantile(values, 0.5)),
    p85Ms: Math.round(quantile(values, 0.85)),
    longest: sound.sort((a, b) => b.ms - a.ms || (a.id < b.id ? -1 : 1)).slice(0, LONGEST_SHOWN),
  }
}

/** Every week of the time, those in which nothing happened, too. */
function weeksOf(deployments: readonly DeliveredDeployment[], { fromMs, untilMs }: { fromMs: number; untilMs: number }): DeliveryWeek[] {
  const byWeek = groupBy(deployments, ({ atMs, runningAtMs }) => startOfWeekMs(runningAtMs ?? atMs))
  const weeks: DeliveryWeek[] = []
  for (let atMs = startOfWeekMs(fromMs); atMs < untilMs; atMs += WEEK_MS) {
    const those = byWeek.get(atMs) ?? []
    weeks.push({ atMs, deployments: those.length, bad: those.filter(({ isBad }) => isBad).length })
  }
  return weeks
}
