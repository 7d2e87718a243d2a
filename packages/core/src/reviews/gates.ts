import { beyondQuality, broughtInWords, parseQuality, type QualityMeasures } from '#findings/quality-sentence'
import type { MergeGates, MergeHours } from './events.js'
import type { GivenVerdict, StandingVerdict } from './verdicts.js'

/** The gates before a merge, in the order in which they are shown. */
export const GATE_CODES = [
  'file',
  'draft',
  'build',
  'agreements',
  'owners',
  'no-objection',
  'settled',
  'item',
  'requirement',
  'suspects',
  'time',
  'findings',
  'coverage',
  'quality',
  'main',
  'hours',
  'queue',
] as const
/** One of them. */
export type GateCode = (typeof GATE_CODES)[number]
/** A condition before a merge: whether it holds, with what its sentence needs. */
export interface MergeGate {
  code: GateCode
  isMet: boolean
  /** What is missing, where the gate itself has words for it. */
  words: string | null
  /** How many there are and how many are needed; both 0 where it is not about numbers. */
  has: number
  needs: number
  /** Whom it concerns: those who agreed, who object, or who could give what is missing. */
  personIds: string[]
}
/** Paths that the same people look after, and who they are. */
export interface OwnedPaths {
  paths: string[]
  personIds: string[]
}

/** What is known of a change when its gates are asked. */
export interface GateFacts {
  gates: MergeGates
  /** Why the file that holds the gates cannot be read; null where it can, or there is none. */
  fileTrouble: string | null
  isDraft: boolean
  /** What its builds keep it from being merged for, as what to do; null where nothing does. */
  buildTrouble: string | null
  verdicts: readonly StandingVerdict<GivenVerdict>[]
  /** Its paths by those who look after them; without those that nobody does, and those that its own authors alone do. */
  owned: readonly OwnedPaths[]
  openRemarks: number
  itemCount: number
  requirementCount: number
  suspectCount: number
  spentMinutes: number
  newFindings: number
  /** Of a hundred changed lines so many are run by tests, null where none can be measured; undefined where no report came. */
  coveredPercent: number | null | undefined
  /** What it brings; null where no gate asks. */
  measures: QualityMeasures | null
  /** How far its trial on top of those before it is, in words; null where none is asked for, and of one that lives in a code host. */
  trialWords: string | null
  /** The newest build of the base that broke; null where it did not. */
  brokenBase: string | null
  nowMs: number
}

/** No gates but what builds say and what people object to. */
export const DEFAULT_GATES: MergeGates = {
  agreements: 0,
  needsSettled: false,
  needsItem: false,
  needsOwners: false,
  needsRequirement: false,
  needsTime: false,
  needsNoSuspects: false,
  notWhileBroken: false,
  noNewFindings: false,
  coverageAtLeast: null,
  quality: '',
  triesOnTop: false,
  hours: null,
}

/**
 * The gates of a change as they hold now (docs/rules.md#gates): only those that the repository asks for, what builds say, and objections,
 * which always count.
 */
export function mergeGates(facts: GateFacts): MergeGate[] {
  const { gates, verdicts, openRemarks } = facts
  const agreed = verdicts.filter(({ verdict, fell }) => verdict === 'agreed' && fell === null).map(({ personId }) => personId)
  const objecting = verdicts.filter(({ verdict }) => verdict === 'changes-asked').map(({ personId }) => personId)
  const gate = (code: GateCode, isMet: boolean, more: Partial<MergeGate> = {}): MergeGate => ({
    code,
    isMet,
    words: null,
    has: 0,
    needs: 0,
    personIds: [],
    ...more,
  })
  const when = (isAsked: boolean, make: () => MergeGate): MergeGate[] => (isAsked ? [make()] : [])
  return [
    ...when(facts.fileTrouble !== null, () => gate('file', false, { words: facts.fileTrouble })),
    ...when(facts.isDraft, () => gate('draft', false)),
    gate('build', facts.buildTrouble === null, { words: facts.buildTrouble }),
    ...when(gates.agreements > 0, () =>
      gate('agreements', agreed.length >= gates.agreements, { has: agreed.length, needs: gates.agreements, personIds: agreed }),
    ),
    ...when(gates.needsOwners, () => ownersGate(facts.owned, new Set(agreed), gate)),
    ...when(objecting.length > 0, () => gate('no-objection', false, { personIds: objecting })),
    ...when(gates.needsSettled, () => gate('settled', openRemarks === 0, { has: openRemarks })),
    ...when(gates.needsItem, () => gate('item', facts.itemCount > 0)),
    ...when(gates.needsRequirement, () => gate('requirement', facts.requirementCount > 0)),
    ...when(gates.needsNoSuspects, () => gate('suspects', facts.suspectCount === 0, { has: facts.suspectCount })),
    ...when(gates.needsTime, () => gate('time', facts.spentMinutes > 0)),
    ...when(gates.noNewFindings, () => gate('findings', facts.newFindings === 0, { has: facts.newFindings })),
    ...when(gates.coverageAtLeast !== null, () => coverageGate(facts.coveredPercent, gates.coverageAtLeast ?? 0, gate)),
    ...when(gates.quality !== '', () => qualityGate(gates.quality, facts.measures, gate)),
    ...when(gates.notWhileBroken, () => gate('main', facts.brokenBase === null, { words: facts.brokenBase })),
    ...when(gates.hours !== null, () =>
      gate('hours', isWithin(gates.hours as MergeHours, facts.nowMs), { words: hoursInWords(gates.hours as MergeHours) }),
    ),
    // It opens by itself, when the base takes what was built: nobody merges by hand through it.
    ...when(gates.triesOnTop && facts.trialWords !== null, () => gate('queue', false, { words: facts.trialWords })),
  ]
}

function qualityGate(
  sentence: string,
  measures: QualityMeasures | null,
  gate: (code: GateCode, isMet: boolean, more?: Partial<MergeGate>) => MergeGate,
): MergeGate {
  const read = parseQuality(sentence)
  if ('why' in read) return gate('quality', false, { words: `What it may bring is not understood: ${read.why}` })
  if (measures === null) return gate('quality', false, { words: 'Nothing is known of what it brings' })
  const beyond = beyondQuality(read.limits, measures)
  return gate('quality', beyond.length === 0, {
    words: beyond.length === 0 ? broughtInWords(measures) : beyond.join('; '),
    has: beyond.length,
  })
}

function coverageGate(
  percent: number | null | undefined,
  needs: number,
  gate: (code: GateCode, isMet: boolean, more?: Partial<MergeGate>) => MergeGate,
): MergeGate {
  if (percent === undefined) return gate('coverage', false, { needs, words: 'No coverage was reported for its newest commit' })
  if (percent === null) return gate('coverage', true, { needs, words: 'None of the lines that it brings can be measured' })
  return gate('coverage', percent >= needs, { has: percent, needs })
}

function ownersGate(
  owned: readonly OwnedPaths[],
  agreed: ReadonlySet<string>,
  gate: (code: GateCode, isMet: boolean, more?: Partial<MergeGate>) => MergeGate,
): MergeGate {
  const missing = owned.filter(({ personIds }) => !personIds.some((personId) => agreed.has(personId)))
  const paths = missing.flatMap((one) => one.paths)
  return gate('owners', missing.length === 0, {
    has: owned.length - missing.length,
    needs: owned.length,
    personIds: [...new Set((missing.length === 0 ? owned : missing).flatMap(({ personIds }) => personIds))],
    words: missing.length === 0 ? null : `${paths.slice(0, 3).join(', ')}${paths.length > 3 ? ` and ${paths.length - 3} more` : ''}`,
  })
}

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const
const SHORT_DAYS: Readonly<Record<string, number>> = { Mon: 1, Tue: 2, Wed: 3, Thu: 4, Fri: 5, Sat: 6, Sun: 7 }

/** Whether a moment lies within hours, as clocks in their zone show it. */
export function isWithin({ days, from, until, zone }: MergeHours, nowMs: number): boolean {
  const format = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
  const parts = new Map(format.formatToParts(nowMs).map(({ type, value }) => [type, value]))
  const day = SHORT_DAYS[parts.get('weekday') ?? ''] ?? 0
  const time = `${parts.get('hour')}:${parts.get('minute')}`
  if (from <= until) return days.includes(day) && time >= from && time < until
  // Hours that span midnight belong to the day on which they begin.
  return (days.includes(day) && time >= from) || (days.includes(((day + 5) % 7) + 1) && time < until)
}

/** Hours as words: `Monday to Thursday, 08:00 to 16:00 (Europe/Lisbon)`. */
export function hoursInWords({ days, from, until, zone }: MergeHours): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b)
  const isRow = sorted.length > 2 && sorted.every((day, at) => at === 0 || day === (sorted[at - 1] as number) + 1)
  const nameOf = (day: number | undefined) => DAYS[(day ?? 1) - 1] ?? ''
  const named = isRow ? `${nameOf(sorted[0])} to ${nameOf(sorted.at(-1))}` : sorted.map(nameOf).join(', ')
  return `${named}, ${from} to ${until} (${zone})`
}
