import { UTCDate } from '@date-fns/utc'
import { format } from 'date-fns/format'

/** One booking; `minutes` may be negative. */
export interface TimeBooking {
  itemKey: string
  personId: string
  milestone: string | null
  minutes: number
  /** `YYYY-MM-DD` */
  on: string
}
/** By what booked time can be summed. */
export const TIME_GROUPS = ['item', 'person', 'milestone', 'week'] as const
/** By what booked time is summed. */
export type TimeGroup = (typeof TIME_GROUPS)[number]
/** The minutes of one group. */
export interface TimeSum {
  group: string
  minutes: number
  bookings: number
}

/** Sums by one key, largest first (weeks in order of time). The sums of all groups add up to the sum of all bookings, whatever the key. */
export function sumTimes(bookings: readonly TimeBooking[], by: TimeGroup): TimeSum[] {
  const sums = new Map<string, TimeSum>()
  for (const booking of bookings) {
    const group = groupOf(booking, by)
    const sum = sums.get(group) ?? { group, minutes: 0, bookings: 0 }
    sum.minutes += booking.minutes
    sum.bookings++
    sums.set(group, sum)
  }
  return [...sums.values()].sort((a, b) =>
    by === 'week' ? b.group.localeCompare(a.group) : b.minutes - a.minutes || a.group.localeCompare(b.group),
  )
}

function groupOf(booking: TimeBooking, by: TimeGroup): string {
  switch (by) {
    case 'item':
      return booking.itemKey
    case 'person':
      return booking.personId
    case 'milestone':
      return booking.milestone ?? ''
    case 'week':
      return weekOf(booking.on)
  }
}

/** ISO 8601 week of a day: `2026-W48`; a week belongs to the year of its Thursday. */
export function weekOf(day: string): string {
  return format(new UTCDate(`${day}T00:00:00Z`), "RRRR-'W'II")
}
