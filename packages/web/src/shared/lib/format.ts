import { differenceInCalendarDays, format, isSameDay, isSameYear } from 'date-fns'
import { pageNowMs } from './past'

export { plural } from '@dystracer/core/text/plural'

/** `09:14` today, `Tue 09:14` within a week, `2 Aug` this year, else with the year. */
export function shortDate(atMs: number, nowMs = pageNowMs()): string {
  if (isSameDay(atMs, nowMs)) return format(atMs, 'HH:mm')
  if (Math.abs(differenceInCalendarDays(nowMs, atMs)) < 7) return format(atMs, 'EEE HH:mm')
  return format(atMs, isSameYear(atMs, nowMs) ? 'd MMM' : 'd MMM yyyy')
}

/** A place on an axis of time: the clock where the axis spans less than two days (with the day at its beginning), else the day. */
export function axisDate(atMs: number, { fromMs, toMs }: { fromMs: number; toMs: number }): string {
  if (toMs - fromMs >= 2 * 86_400_000) return format(atMs, 'd MMM')
  return format(atMs, atMs === fromMs ? 'd MMM HH:mm' : 'HH:mm')
}

export function fullDate(atMs: number): string {
  return format(atMs, "EEEE d MMMM yyyy 'at' HH:mm:ss")
}

/** `6 min`, `3 h`, `2 d`. */
export function age(atMs: number, nowMs = pageNowMs()): string {
  const minutes = Math.max(0, Math.floor((nowMs - atMs) / 60_000))
  if (minutes < 60) return `${minutes} min`
  const hours = Math.floor(minutes / 60)
  return hours < 48 ? `${hours} h` : `${Math.floor(hours / 24)} d`
}

/** A label at the beginning of a line. */
export function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** Words with commas, or lines, as a list, without the empty ones. */
export function splitWords(text: string, separator: ',' | '\n' = ','): string[] {
  return text
    .split(separator)
    .map((word) => word.trim())
    .filter(Boolean)
}

/** How long something took: `340 ms`, `2.4 s`, `45 s`. */
export function durationText(ms: number): string {
  return ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(ms < 10_000 ? 1 : 0)} s`
}

/** How much a file holds: `900 B`, `12 KB`, `1.4 MB`. */
export function sizeText(bytes: number): string {
  return bytes < 1024 ? `${bytes} B` : bytes < 1 << 20 ? `${Math.round(bytes / 1024)} KB` : `${(bytes / (1 << 20)).toFixed(1)} MB`
}
