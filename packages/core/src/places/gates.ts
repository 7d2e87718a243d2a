import { TZDate } from '@date-fns/tz'
import { format } from 'date-fns/format'
import { getISODay } from 'date-fns/getISODay'
import { dayIn, isTimeZone } from '#basics/days'
import { z } from 'zod'

const zHour = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time such as 09:00')
const zDate = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'A day such as 2026-12-24')

/** What has to hold before a release may come to a place. Of each kind a place has at most one, but of checks and freezes. */
export const zPlaceGate = z.discriminatedUnion('kind', [
  /** It ran in the place before this one so many hours, did so much work there, and failed in no new way. */
  z.strictObject({ kind: z.literal('soak'), hours: z.number().int().min(0).max(10_000), units: z.number().int().min(0).max(1e9) }),
  /** The newest build of its commit passed. */
  z.strictObject({ kind: z.literal('build') }),
  /** No item of the project that is so severe, or worse, is still to be merged. */
  z.strictObject({ kind: z.literal('severity'), atLeast: z.number().int().min(1).max(5) }),
  /** So many people agreed who wrote none of its changes; of those named, if any are. */
  z.strictObject({ kind: z.literal('agreed'), people: z.number().int().min(1).max(20), among: z.array(z.string().max(60)).max(50) }),
  /** On these days of the week (1 is Monday), between these times of that zone. */
  z.strictObject({
    kind: z.literal('window'),
    days: z.array(z.number().int().min(1).max(7)).min(1, 'Choose a day').max(7),
    from: zHour,
    to: zHour,
    timeZone: z.string().max(60).refine(isTimeZone, 'No such time zone'),
  }),
  /** Nothing comes from one day to another, both included. */
  z.strictObject({
    kind: z.literal('freeze'),
    from: zDate,
    to: zDate,
    why: z.string().trim().max(200),
    timeZone: z.string().max(60).refine(isTimeZone),
  }),
  /** Somebody looked, and says so. */
  z.strictObject({ kind: z.literal('check'), words: z.string().trim().min(1, 'Say what is to be looked at').max(200) }),
])
/** One of them. */
export type PlaceGate = z.output<typeof zPlaceGate>

/** What is known of a release on its way to a place. */
export interface PlaceFacts {
  nowMs: number
  /** Where it has to have run before; null where this is the first place. */
  before: { environment: string; sinceMs: number | null; ranMs: number; units: number; newFaults: number } | null
  /** How the newest build of its commit stands; null where none was reported. */
  build: string | null
  /** Items of the project that are to be merged, by their severity; those without any are not counted. */
  openBySeverity: readonly { severity: number; count: number }[]
  /** Who agreed, and who wrote changes that it brings. */
  agreed: readonly string[]
  authors: ReadonlySet<string>
  /** Words of the checks that somebody made. */
  checked: ReadonlySet<string>
}

/** A gate as it stands, in words for whoever waits. */
export interface JudgedGate {
  kind: PlaceGate['kind']
  isMet: boolean
  words: string
}

/** Each gate of a place with whether a release passes it, in the order of the gates. Pure; O(gates). */
export function judgeGates(gates: readonly PlaceGate[], facts: PlaceFacts): JudgedGate[] {
  return gates.map((gate) => ({ kind: gate.kind, ...judge(gate, facts) }))
}

/** People who agreed and count: they wrote none of it, and are among those named. */
export function countedAgreements(
  { among }: { among: readonly string[] },
  { agreed, authors }: Pick<PlaceFacts, 'agreed' | 'authors'>,
): string[] {
  return agreed.filter((personId) => !authors.has(personId) && (among.length === 0 || among.includes(personId)))
}

function judge(gate: PlaceGate, facts: PlaceFacts): { isMet: boolean; words: string } {
  switch (gate.kind) {
    case 'soak':
      return judgeSoak(gate, facts)
    case 'build':
      return facts.build === null
        ? { isMet: false, words: 'no build of its commit was reported' }
        : { isMet: facts.build === 'passed', words: facts.build === 'passed' ? 'its build passed' : `its build ${facts.build}` }
    case 'severity': {
      const open = facts.openBySeverity.filter(({ severity }) => severity <= gate.atLeast).reduce((sum, { count }) => sum + count, 0)
      const words = gate.atLeast === 1 ? 'severity 1' : `severity 1 to ${gate.atLeast}`
      return { isMet: open === 0, words: open === 0 ? `nothing open of ${words}` : `${open} open of ${words}` }
    }
    case 'agreed': {
      const counted = countedAgreements(gate, facts).length
      return { isMet: counted >= gate.people, words: `${counted} of ${gate.people} agreed` }
    }
    case 'window': {
      const { day, time } = localTime(facts.nowMs, gate.timeZone)
      const isInside = gate.from <= gate.to ? gate.from <= time && time < gate.to : gate.from <= time || time < gate.to
      const isMet = gate.days.includes(day) && isInside
      const when = `${gate.days.map((one) => DAYS[one - 1]).join(', ')} ${gate.from} to ${gate.to}`
      return { isMet, words: isMet ? `it is ${when}` : `only ${when} (${gate.timeZone})` }
    }
    case 'freeze': {
      const date = dayIn(gate.timeZone, facts.nowMs)
      const isFrozen = gate.from <= date && date <= gate.to
      const why = gate.why === '' ? '' : `: ${gate.why}`
      return { isMet: !isFrozen, words: isFrozen ? `frozen until ${gate.to}${why}` : 'no freeze today' }
    }
    case 'check':
      return { isMet: facts.checked.has(gate.words), words: gate.words }
  }
}

const HOUR_MS = 3_600_000
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const

function judgeSoak({ hours, units }: { hours: number; units: number }, { before }: PlaceFacts): { isMet: boolean; words: string } {
  if (before === null) return { isMet: true, words: 'there is no place before it' }
  if (before.sinceMs === null) return { isMet: false, words: `has not run in ${before.environment}` }
  const ran = Math.floor(before.ranMs / HOUR_MS)
  const lacks = [
    before.ranMs < hours * HOUR_MS && `ran ${ran} of ${hours} h in ${before.environment}`,
    before.units < units && `did ${before.units} of ${units} pieces of work there`,
    before.newFaults > 0 && `failed there in ${before.newFaults === 1 ? 'a new way' : `${before.newFaults} new ways`}`,
  ].filter((one) => one !== false)
  return lacks.length === 0
    ? { isMet: true, words: `ran ${ran} h in ${before.environment} without a new fault` }
    : { isMet: false, words: lacks.join(', ') }
}

/** A moment as it is read on the wall of a zone: the day of the week (1 is Monday), and the time. */
function localTime(atMs: number, timeZone: string): { day: number; time: string } {
  const there = new TZDate(atMs, timeZone)
  return { day: getISODay(there), time: format(there, 'HH:mm') }
}
