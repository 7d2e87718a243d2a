/** How often something failed, beside how much was done. */
export interface Load {
  failures: number
  /** Units of work: requests, jobs, whatever the service tells of. */
  units: number
}
/** A rate with the bounds between which it lies in 95 of 100 cases. */
export interface Rate {
  perThousand: number
  from: number
  to: number
}
/** What a release is worth as it runs, and why. */
export interface Health {
  verdict: 'too-early' | 'healthy' | 'look' | 'stop'
  after: Rate | null
  before: Rate | null
  reasons: HealthReason[]
}
/** What decided. */
export type HealthReason = 'little-traffic' | 'nothing-before' | 'new-faults' | 'fails-more' | 'fails-much-more' | 'no-worse'

/** With less work than this nothing is said. */
const UNITS_MIN = 100
/** From so many times as often on it should be stopped. */
const MUCH_MORE = 2
const Z = 1.96

/**
 * The rate of failures with an interval of 95 %: failures are counted as a Poisson process, bounds by Byar's
 * approximation of the exact ones (Breslow and Day, Statistical Methods in Cancer Research II, 1987, p. 69),
 * good to a percent from one failure on. Null without work.
 */
export function rateOf({ failures, units }: Load): Rate | null {
  if (units === 0) return null
  const n = failures
  const lower = n === 0 ? 0 : n * (1 - 1 / (9 * n) - Z / (3 * Math.sqrt(n))) ** 3
  const m = n + 1
  const upper = m * (1 - 1 / (9 * m) + Z / (3 * Math.sqrt(m))) ** 3
  const per = (value: number) => (1000 * value) / units
  return { perThousand: per(n), from: per(Math.max(0, lower)), to: per(upper) }
}

/**
 * Holds a release against the one before it, by how often it fails for what it does: stop where even the
 * lower bound is twice the upper one of before; look where the intervals lie apart, or where it brought
 * faults that nobody had seen. Little traffic says nothing.
 */
export function judgeHealth(after: Load, before: Load, newFaults: number): Health {
  const [now, then] = [rateOf(after), rateOf(before)]
  const known = { after: now, before: then }
  if (now === null || after.units < UNITS_MIN)
    return {
      ...known,
      verdict: newFaults > 0 ? 'look' : 'too-early',
      reasons: newFaults > 0 ? ['new-faults', 'little-traffic'] : ['little-traffic'],
    }
  const reasons: HealthReason[] = newFaults > 0 ? ['new-faults'] : []
  if (then === null || before.units < UNITS_MIN)
    return { ...known, verdict: newFaults > 0 ? 'look' : 'healthy', reasons: [...reasons, 'nothing-before'] }
  if (now.from > MUCH_MORE * then.to) return { ...known, verdict: 'stop', reasons: [...reasons, 'fails-much-more'] }
  if (now.from > then.to) return { ...known, verdict: 'look', reasons: [...reasons, 'fails-more'] }
  return { ...known, verdict: newFaults > 0 ? 'look' : 'healthy', reasons: [...reasons, 'no-worse'] }
}
