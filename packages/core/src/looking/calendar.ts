import { UTCDate } from '@date-fns/utc'
// By module: all of the package would be two hundred further files in every thread that starts.
import { addDays as daysAfter } from 'date-fns/addDays'
import { addMonths as monthsAfter } from 'date-fns/addMonths'
import { eachDayOfInterval } from 'date-fns/eachDayOfInterval'
import { endOfISOWeek } from 'date-fns/endOfISOWeek'
import { endOfMonth } from 'date-fns/endOfMonth'
import { format } from 'date-fns/format'
import { startOfISOWeek } from 'date-fns/startOfISOWeek'

/** A day as a plain date: reckoned in UTC, so that no clock change of anybody's zone shifts it. */
function dateOf(day: string): UTCDate {
  return new UTCDate(`${day}T00:00:00Z`)
}

/** The day so many days later (earlier for a negative number). */
export function addDays(day: string, count: number): string {
  return format(daysAfter(dateOf(day), count), 'yyyy-MM-dd')
}

/** The month so many months later, `YYYY-MM`. */
export function addMonths(month: string, count: number): string {
  return format(monthsAfter(dateOf(`${month}-01`), count), 'yyyy-MM')
}

/** The weeks that a month touches, Monday first, each with its seven days; ISO 8601 weeks. */
export function weeksOf(month: string): string[][] {
  const first = dateOf(`${month}-01`)
  const days = eachDayOfInterval({ start: startOfISOWeek(first), end: endOfISOWeek(endOfMonth(first)) }).map((day) =>
    format(day, 'yyyy-MM-dd'),
  )
  return Array.from({ length: days.length / 7 }, (_, week) => days.slice(week * 7, week * 7 + 7))
}

/** When the ISO week in which a time falls begins: its Monday, in UTC. */
export function startOfWeekMs(atMs: number): number {
  return startOfISOWeek(new UTCDate(atMs)).getTime()
}

/** The Monday of the ISO week in which a time falls, in UTC. */
export function mondayOf(atMs: number): string {
  return format(new UTCDate(startOfWeekMs(atMs)), 'yyyy-MM-dd')
}

/** Things by the day that they stand on, in the order given. O(n). */
export function byDay<Thing>(things: readonly Thing[], dayOf: (thing: Thing) => string | null): Map<string, Thing[]> {
  const days = new Map<string, Thing[]>()
  for (const thing of things) {
    const day = dayOf(thing)
    if (day === null) continue
    const known = days.get(day)
    if (known) known.push(thing)
    else days.set(day, [thing])
  }
  return days
}
