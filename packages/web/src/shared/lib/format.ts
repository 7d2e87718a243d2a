import { differenceInCalendarDays, format, isSameDay, isSameYear } from 'date-fns'

/** `09:14` today, `Tue 09:14` within a week, `2 Aug` this year, else with the year. */
export function shortDate(atMs: number, nowMs = Date.now()): string {
  if (isSameDay(atMs, nowMs)) return format(atMs, 'HH:mm')
  if (Math.abs(differenceInCalendarDays(nowMs, atMs)) < 7) return format(atMs, 'EEE HH:mm')
  return format(atMs, isSameYear(atMs, nowMs) ? 'd MMM' : 'd MMM yyyy')
}

export function fullDate(atMs: number): string {
  return format(atMs, "EEEE d MMMM yyyy 'at' HH:mm:ss")
}

/** `6 min`, `3 h`, `2 d`. */
export function age(atMs: number, nowMs = Date.now()): string {
  const minutes = Math.max(0, Math.floor((nowMs - atMs) / 60_000))
  if (minutes < 60) return `${minutes} min`
  const hours = Math.floor(minutes / 60)
  return hours < 48 ? `${hours} h` : `${Math.floor(hours / 24)} d`
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`
}
