const DAY_MS = 86_400_000

/** A day as UTC midnight, in epoch ms; days are compared and stepped as plain dates. */
function startOf(day: string): number {
  return Date.parse(`${day}T00:00:00Z`)
}

/** The day so many days later (earlier for a negative number). */
export function addDays(day: string, count: number): string {
  return new Date(startOf(day) + count * DAY_MS).toISOString().slice(0, 10)
}

/** The month so many months later, `YYYY-MM`. */
export function addMonths(month: string, count: number): string {
  const [year = 1970, number = 1] = month.split('-').map(Number)
  return new Date(Date.UTC(year, number - 1 + count, 1)).toISOString().slice(0, 7)
}

/** The weeks that a month touches, Monday first, each with its seven days; ISO 8601 weeks. */
export function weeksOf(month: string): string[][] {
  const first = `${month}-01`
  const monday = addDays(first, -((new Date(startOf(first)).getUTCDay() + 6) % 7))
  const weeks: string[][] = []
  for (let day = monday; day.slice(0, 7) <= month; day = addDays(day, 7)) weeks.push(Array.from({ length: 7 }, (_, at) => addDays(day, at)))
  return weeks
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
