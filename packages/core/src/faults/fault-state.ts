import { compareVersions } from '#releases/compare-versions'
import type { FaultNow, FaultStand, Silence } from './fault-stand.js'
import { NEW_FOR_MS, RETURNS_AFTER_MS } from './run-rules.js'
import type { Spike } from './spike.js'

/** How a fault stands, from what needs eyes to what does not. */
export const FAULT_STATES = ['came-back', 'spike', 'new', 'returned', 'continuing', 'quiet', 'fixed', 'silenced', 'not-ours'] as const
/** One of those. */
export type FaultState = (typeof FAULT_STATES)[number]

/** Whether a silence still holds. */
export function isSilent(silence: Silence | null, now: FaultNow): boolean {
  if (silence === null) return false
  if (silence.untilMs !== null && now.nowMs >= silence.untilMs) return false
  if (silence.moreTimes !== null && now.count - silence.sinceCount >= silence.moreTimes) return false
  if (silence.release !== null && isSeenFrom(silence.release, now.releases)) return false
  return !(silence.untilSpike && now.isSpike())
}

function isSeenFrom(release: string, seen: readonly string[]): boolean {
  return seen.some((other) => other !== '' && compareVersions(other, release) >= 0)
}

/**
 * How a fault stands now. A person's word holds until it is belied: “fixed in 4.2.1” by an occurrence of that
 * release or a later one, a silence by what was to end it. `hasComeBack` is what the evidence says of its
 * item (docs/rules.md#came-back).
 */
export function stateOf(
  fault: { firstAtMs: number; lastAtMs: number; lastBeforeMs: number | null; hasComeBack: boolean; spike: Spike | null },
  stand: FaultStand,
  now: FaultNow,
): FaultState {
  const { judgement } = stand
  if (judgement?.kind === 'not-ours') return 'not-ours'
  const isBelied = judgement?.kind === 'fixed' && judgement.release !== null && isSeenFrom(judgement.release, now.releases)
  if (isBelied || fault.hasComeBack) return 'came-back'
  if (isSilent(stand.silence, now)) return 'silenced'
  if (fault.spike) return 'spike'
  if (judgement?.kind === 'fixed') return 'fixed'
  if (now.nowMs - fault.firstAtMs <= NEW_FOR_MS) return 'new'
  if (now.nowMs - fault.lastAtMs >= RETURNS_AFTER_MS) return 'quiet'
  return fault.lastBeforeMs !== null ? 'returned' : 'continuing'
}
