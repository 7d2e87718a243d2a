import type { PlaceDrift } from './wire.js'

/** What a program said it is, in a place: the release with the time at which it said so last. */
export interface Heard {
  environment: string
  release: string
  lastAtMs: number
}
/** What was told last to run in a place, and since when. */
export interface Told {
  environment: string
  release: string
  sinceMs: number
}

/** What was heard longer ago says nothing of now. */
const HEARD_MS = 3_600_000
/** So long after a deployment its machines may still be going over to it. */
const GOING_OVER_MS = 10 * 60_000

/**
 * Places where what programs say they are speaks against what was told: another release was heard within the last
 * hour, more than ten minutes after the one that was told began to run. Programs that name no release say nothing.
 * By place, the newest first. O(heard · told).
 */
export function placeDrift({ heard, told, nowMs }: { heard: readonly Heard[]; told: readonly Told[]; nowMs: number }): PlaceDrift[] {
  const now = heard.filter(({ release, lastAtMs }) => release !== '' && release !== 'unknown' && lastAtMs > nowMs - HEARD_MS)
  return now
    .flatMap(({ environment, release, lastAtMs }) => {
      const expected = told.find((one) => one.environment === environment)
      if (expected && (expected.release === release || lastAtMs <= expected.sinceMs + GOING_OVER_MS)) return []
      const isPartly = now.some((other) => other.environment === environment && other.release === expected?.release)
      return [{ environment, release, lastAtMs, told: expected?.release ?? null, isPartly }]
    })
    .toSorted((a, b) => (a.environment < b.environment ? -1 : a.environment > b.environment ? 1 : b.lastAtMs - a.lastAtMs))
}
