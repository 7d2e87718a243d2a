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

/** Whether a text names a time zone that this run time knows. An offset such as +02:00 knows no summer, and is no zone of a person. */
export function isTimeZone(text: string): boolean {
  return /^[A-Za-z][\w+/-]*$/.test(text) && !Number.isNaN(tzOffset(text, new Date(0)))
}
