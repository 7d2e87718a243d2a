import { PRIORITIES } from '#setup/field-use'
import { parseDurationMinutes } from '#text/duration'
import { readDay, type DayOrder } from './read-day.js'

/** The address in a cell such as `Some One <some.one@example.org>`, and the name beside it; null where there is none. */
export function addressIn(text: string): { name: string; email: string } | null {
  const email = /[^\s<>,;"]{1,64}@[^\s<>,;"]{1,200}\.[a-z]{2,20}/i.exec(text)?.[0]
  if (email === undefined) return null
  const name = text
    .replace(email, '')
    .replace(/[<>",;()]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
  return { name: name || nameOfAddress(email), email: email.toLowerCase() }
}

/** `rafe.varga@…` is likely somebody called Rafe Varga. */
function nameOfAddress(email: string): string {
  return email
    .slice(0, email.indexOf('@'))
    .split(/[._-]+/)
    .map((word) => word.charAt(0).toUpperCase() + word.slice(1))
    .join(' ')
}

const SEVERITY_WORDS: readonly (readonly string[])[] = [
  ['blocker', 'critical', 'fatal', 'catastrophic', 'emergency'],
  ['major', 'high', 'severe', 'serious'],
  ['normal', 'medium', 'moderate', 'average'],
  ['minor', 'low', 'small'],
  ['trivial', 'cosmetic', 'lowest', 'text', 'tweak'],
]

/**
 * A severity from 1 (worst) to 5: a number, a number behind a letter ("S2", "P1"), or a word that the trade uses; null for anything else.
 */
export function readSeverity(text: string): number | null {
  const value = text.trim().toLowerCase()
  const number = /^[a-z]{0,3}[ -]?([1-5])(?:\b|$)/.exec(value)?.[1]
  if (number) return Number(number)
  const at = SEVERITY_WORDS.findIndex((words) => words.some((word) => value.startsWith(word)))
  return at < 0 ? null : at + 1
}

/** A cell as text: a list with commas, an object as JSON, in lines that end alike. */
export function toText(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (Array.isArray(cell)) return cell.map(toText).filter(Boolean).join(', ')
  return String(typeof cell === 'object' ? JSON.stringify(cell) : cell)
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .trim()
}

/** What other trackers call a defect or a story; undefined where nothing fits. */
export function typeOfWord(text: string, types: readonly string[]): string | undefined {
  const word = text.toLowerCase()
  if (types.some((type) => type.toLowerCase() === word)) return undefined
  const standard = /bug|fault|error|incident|problem/.test(word)
    ? 'defect'
    : /story|feature|enhancement|improvement|wish/.test(word)
      ? 'story'
      : /task|chore|todo/.test(word)
        ? 'task'
        : undefined
  return standard !== undefined && types.includes(standard) ? standard : undefined
}

const PRIORITY_WORDS: Record<(typeof PRIORITIES)[number], RegExp> = {
  urgent: /^(?:urgent|immediate|now|asap|highest|blocker|critical|p0|p1|1)$/,
  high: /^(?:high|major|important|p2|2)$/,
  normal: /^(?:normal|medium|moderate|default|p3|3)$/,
  low: /^(?:low|lowest|minor|trivial|someday|p4|p5|4|5)$/,
}

/** A priority by the words that the trade uses for it. */
export function readPriority(text: string): string | null {
  return PRIORITIES.find((priority) => PRIORITY_WORDS[priority].test(text.trim().toLowerCase())) ?? null
}

/** Points from 0 to 1000, also with a decimal comma. */
export function readPoints(text: string): number | null {
  const value = Number(text.replace(',', '.'))
  return Number.isFinite(value) && value >= 0 && value <= 1000 ? value : null
}

/**
 * Minutes of a duration such as `1h 30m` or `1:30`; a bare number counts in what the name of its column says, else in hours.
 */
export function readMinutes(text: string, column: string): number | null {
  const clock = /^(\d{1,5}):([0-5]\d)(?::[0-5]\d)?$/.exec(text)
  if (clock) return Number(clock[1]) * 60 + Number(clock[2])
  const number = /^\d+(?:[.,]\d+)?$/.test(text) ? Number(text.replace(',', '.')) : null
  const perUnit = /sec/i.test(column) ? 1 / 60 : /min/i.test(column) ? 1 : /day/i.test(column) ? 480 : 60
  const minutes = number === null ? parseDurationMinutes(text) : Math.round(number * perUnit)
  return minutes !== null && minutes >= 0 && minutes <= 1_000_000 ? minutes : null
}

/** A time in milliseconds: ISO 8601, seconds or milliseconds since 1970, or a day in any form; null for none, and for one to come. */
export function readTime(text: string, order: DayOrder, nowMs: number): number | null {
  const iso = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}/.test(text) ? Date.parse(text.replace(' ', 'T')) : Number.NaN
  const epoch = /^\d{9,10}$/.test(text) ? Number(text) * 1000 : /^\d{12,13}$/.test(text) ? Number(text) : Number.NaN
  const day = readDay(text, order)
  const atMs = [iso, epoch, day === null ? Number.NaN : Date.parse(day)].find((each) => Number.isFinite(each))
  return atMs === undefined || atMs < 0 || atMs > nowMs ? null : atMs
}

/** A cell as a list: JSON of one, a list already, or the one thing that it is. */
export function listIn(cell: unknown): unknown[] {
  if (Array.isArray(cell)) return cell
  if (typeof cell !== 'string' || !/^\s*\[/.test(cell)) return [cell]
  try {
    const parsed: unknown = JSON.parse(cell)
    return Array.isArray(parsed) ? parsed : [cell]
  } catch (error) {
    // A text that begins like a list and is none.
    if (error instanceof SyntaxError) return [cell]
    throw error
  }
}
