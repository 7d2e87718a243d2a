import { median } from '#basics/median'

/** What speaks for a sudden rise, in numbers that are shown. */
export interface Spike {
  /** Occurrences of the hour that rose. */
  seen: number
  /** What such an hour usually has: the median of the hours it is held against. */
  expected: number
  /** From how many on it is called a spike. */
  from: number
  /** How many hours it was held against. */
  hours: number
}

const DAY_HOURS = 24
/** Four weeks back: weeks repeat, and what is older is another program. */
const BACK_DAYS = 28
/** Less of the past, or fewer hours like this one, say nothing. */
const KNOWN_HOURS_MIN = 24
const LIKE_HOURS_MIN = 9
/** So many at the least: two instead of none is no spike. */
const SEEN_MIN = 8
/** The median absolute deviation of a normal distribution is so much of its standard deviation. */
const NORMAL_MAD = 1.4826
const SIGMAS = 5

/**
 * Whether an hour of a fault stands out from the fault's own past: held against the same hour of earlier days
 * and the hours beside it, of the same kind of day (working day or week-end) where a week or more is known,
 * by median and median absolute deviation (Hampel 1974), which a few earlier spikes do not move. The spread
 * is at least that of a Poisson process with the same median. Null where nothing stands out, or where less
 * than a day is known.
 *
 * @param countOf occurrences of an hour since 1970; 0 where there were none
 * @param firstHour the first hour of which anything is known
 */
export function spikeAt(countOf: (hour: number) => number, firstHour: number, hour: number): Spike | null {
  const seen = countOf(hour)
  if (seen < SEEN_MIN || hour - firstHour < KNOWN_HOURS_MIN) return null
  const past = hoursLike(firstHour, hour).map(countOf)
  if (past.length < LIKE_HOURS_MIN) return null
  const expected = median(past)
  const spread = Math.max(NORMAL_MAD * median(past.map((count) => Math.abs(count - expected))), Math.sqrt(expected + 1))
  const from = Math.ceil(Math.max(SEEN_MIN, expected + SIGMAS * spread))
  return seen >= from ? { seen, expected, from, hours: past.length } : null
}

/** Earlier hours that are like one, against which it is held; all those before it while a week is not known yet. */
export function hoursLike(firstHour: number, hour: number): number[] {
  const known = hour - firstHour
  if (known < 7 * DAY_HOURS) return Array.from({ length: Math.max(0, known) }, (_, back) => hour - 1 - back)
  const like: number[] = []
  for (let day = 1; day <= BACK_DAYS; day++)
    for (const beside of [-1, 0, 1]) {
      const other = hour - day * DAY_HOURS + beside
      if (other >= firstHour && isWeekend(other) === isWeekend(hour)) like.push(other)
    }
  return like
}

/** Hour 0 was on a Thursday. */
function isWeekend(hour: number): boolean {
  const day = (Math.floor(hour / DAY_HOURS) + 4) % 7
  return day === 0 || day === 6
}
