import { TZDate, tzOffset } from '@date-fns/tz'
import { format } from 'date-fns/format'

/**
 * The calendar day, `2031-03-09`, that a moment falls on in a time zone of the IANA database; null is UTC. A zone that is not known counts
 * as UTC: a day is better than none. O(1).
 */
export function dayIn(timeZone: string | null, atMs: number): string {
  return timeZone !== null && isTimeZone(timeZone)
    ? format(new TZDate(atMs, timeZone), 'yyyy-MM-dd')
    : new Date(atMs).toISOString().slice(0, 10)
}

/** What is set aside is so for at most so many days: whoever still needs it then says so again. */
const ASIDE_DAYS_MAX = 90

/** What is wrong with a day until which something is set aside; null where nothing is. */
export function asideTrouble(day: string, nowMs: number): string | null {
  if (day < dayIn(null, nowMs)) return 'This day is over'
  const isFar = Date.parse(day) > nowMs + ASIDE_DAYS_MAX * 86_400_000
  return isFar ? `At most ${ASIDE_DAYS_MAX} days: whoever still needs it then says so again` : null
}

/** Whether a text names a time zone that this run time knows. An offset such as +02:00 knows no summer, and is no zone of a person. */
export function isTimeZone(text: string): boolean {
  return /^[A-Za-z][\w+/-]*$/.test(text) && !Number.isNaN(tzOffset(text, new Date(0)))
}
