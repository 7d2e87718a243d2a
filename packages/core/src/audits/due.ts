import { mondayOf } from '#looking/calendar'
import type { AuditRhythm } from './wire.js'

/**
 * Whether a report is due: none was kept yet in the week (which begins on Monday) or the month of now. A server that was down keeps one
 * report when it is back, not one for each that it missed.
 */
export function isReportDue(every: AuditRhythm, lastAtMs: number | null, nowMs: number): boolean {
  if (every === 'never') return false
  if (lastAtMs === null) return true
  return lastAtMs < nowMs && periodOf(every, lastAtMs) !== periodOf(every, nowMs)
}

function periodOf(every: AuditRhythm, atMs: number): string {
  return every === 'week' ? mondayOf(atMs) : new Date(atMs).toISOString().slice(0, 7)
}
