import { isDay } from '#setup/own-field'

/** How a column writes days whose parts are numbers alone; `unclear` where every day could be read both ways. */
export type DayOrder = 'day-first' | 'month-first' | 'mixed' | 'unclear'

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const NUMBERS = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4})(?:[ T].*)?$/

/** Looks at all days of a column: one with a number above 12 says in which order they stand. Dots are always day first. O(n). */
export function dayOrderOf(values: readonly string[]): DayOrder {
  let isDayFirst = false
  let isMonthFirst = false
  for (const value of values) {
    const match = NUMBERS.exec(value.trim())
    if (!match || value.includes('.')) continue
    if (Number(match[1]) > 12) isDayFirst = true
    if (Number(match[2]) > 12) isMonthFirst = true
  }
  if (isDayFirst && isMonthFirst) return 'mixed'
  return isDayFirst ? 'day-first' : isMonthFirst ? 'month-first' : 'unclear'
}

/**
 * The day that a cell names, as 2026-12-01; null where it names none that the calendar has. Read are ISO 8601 (also with a time),
 * 2026/12/01, 1.12.2026, 1 Dec 2026, Dec 1, 2026 and, by the column's
 * order, 1/12/2026; a number above 12 settles the order for its own cell.
 */
export function readDay(text: string, order: DayOrder): string | null {
  const value = text.trim()
  const iso = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})(?:[ T].*)?$/.exec(value)
  if (iso) return toDay(iso[1], iso[2], iso[3])
  const numbers = NUMBERS.exec(value)
  if (numbers) {
    const [, first = '', second = '', year = ''] = numbers
    const isDayFirst = value.includes('.') || Number(first) > 12 || (Number(second) <= 12 && order !== 'month-first')
    return isDayFirst ? toDay(year, second, first) : toDay(year, first, second)
  }
  const named = /^(\d{1,2})\.?\s+([a-z]{3})[a-z]*\.?,?\s+(\d{4})$/i.exec(value)
  if (named) return toDay(named[3], String(monthOf(named[2])), named[1])
  const american = /^([a-z]{3})[a-z]*\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i.exec(value)
  if (american) return toDay(american[3], String(monthOf(american[1])), american[2])
  return null
}

function monthOf(name = ''): number {
  return MONTHS.indexOf(name.slice(0, 3).toLowerCase()) + 1
}

function toDay(year = '', month = '', day = ''): string | null {
  const text = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`
  return isDay(text) ? text : null
}
