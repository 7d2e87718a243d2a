import { assertNever } from '#basics/assert-never'
import { SEVERITY_LEVELS, type SeverityName } from '#basics/severity-levels'
import { holds, same, stands } from '#filter/compare-values'
import type { FieldKind, Filter, FilterVocabulary } from '#filter/filter'
import { compareVersions } from '#releases/compare-versions'

/** What a condition on faults can name, and how its values are read. */
export const FAULT_FIELDS = {
  service: 'word',
  repository: 'word',
  environment: 'word',
  release: 'version',
  severity: 'level',
  type: 'text',
  message: 'text',
  path: 'text',
  function: 'text',
  people: 'number',
  hour: 'number',
  day: 'word',
} as const satisfies Record<string, FieldKind>
/** A field of faults. */
export type FaultField = keyof typeof FAULT_FIELDS
/** What is true or false of a fault at a moment. */
export const FAULT_FLAGS = ['new', 'returned', 'spike', 'open', 'settled', 'untied'] as const
/** A word of those. */
export type FaultFlag = (typeof FAULT_FLAGS)[number]
/** The same grammar as that of items, with the words of faults. */
export const FAULT_VOCABULARY: FilterVocabulary<FaultField, FaultFlag> = { fields: FAULT_FIELDS, flags: FAULT_FLAGS, bare: new Map() }
/** A condition on faults as a tree. */
export type FaultFilter = Filter<FaultField, FaultFlag>

/** The days of a week as a condition names them; Sunday first, as `Date` counts. */
export const DAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'] as const

/** What never changes of a fault. */
export interface FaultTraits {
  service: string
  repository: string
  type: string
  message: string
  path: string
  function: string
  severityNumber: number
}
/** What is known of a fault at one moment and place. Times are read in UTC. */
export interface FaultFacts extends FaultTraits {
  environment: string
  environmentKind: string
  atMs: number
  /** Releases that it had been seen in by then, in this environment. */
  releases: readonly string[]
  /** People hit by then. */
  people: number
  /** Asked only where a condition names it: some cost a look at the past. */
  isFlagged: (flag: FaultFlag) => boolean
}

const UNCHANGING = new Set<FaultField>(['service', 'repository', 'severity', 'type', 'message', 'path', 'function'])

/** Whether a condition looks at nothing that changes from one moment to the next, so that it is asked once for a fault. */
export function isUnchanging(filter: FaultFilter): boolean {
  switch (filter.kind) {
    case 'all':
    case 'words':
      return true
    case 'and':
    case 'or':
      return filter.parts.every(isUnchanging)
    case 'not':
      return isUnchanging(filter.part)
    case 'flag':
      return false
    case 'compare':
      return UNCHANGING.has(filter.field)
    default:
      return assertNever(filter)
  }
}

/** Whether a condition names a flag somewhere. */
export function namesFlag(filter: FaultFilter, flag: FaultFlag): boolean {
  if (filter.kind === 'and' || filter.kind === 'or') return filter.parts.some((part) => namesFlag(part, flag))
  return filter.kind === 'not' ? namesFlag(filter.part, flag) : filter.kind === 'flag' && filter.flag === flag
}

/** Whether a fault meets a condition at a moment. Linear in the condition and the texts; no pattern can take longer. */
export function meetsFaultFilter(filter: FaultFilter, facts: FaultFacts): boolean {
  switch (filter.kind) {
    case 'all':
      return true
    case 'and':
      return filter.parts.every((part) => meetsFaultFilter(part, facts))
    case 'or':
      return filter.parts.some((part) => meetsFaultFilter(part, facts))
    case 'not':
      return !meetsFaultFilter(filter.part, facts)
    case 'words':
      return holds(`${facts.type} ${facts.message} ${facts.function} ${facts.path} ${facts.service}`, filter.text)
    case 'flag':
      return facts.isFlagged(filter.flag)
    case 'compare':
      return meets(filter, facts)
    default:
      return assertNever(filter)
  }
}

function meets({ field, comparison, value }: Extract<FaultFilter, { kind: 'compare' }>, facts: FaultFacts): boolean {
  const isNegated = comparison === '!='
  switch (field) {
    case 'service':
    case 'repository':
      return same(facts[field], value) !== isNegated
    case 'environment':
      return (same(facts.environment, value) || same(facts.environmentKind, value)) !== isNegated
    case 'day':
      return same(DAYS[new Date(facts.atMs).getUTCDay()] ?? '', value.slice(0, 3)) !== isNegated
    case 'type':
    case 'message':
    case 'path':
    case 'function':
      return holds(facts[field], value) !== isNegated
    case 'severity':
      return stands(facts.severityNumber - SEVERITY_LEVELS[value.toLowerCase() as SeverityName], comparison, 4)
    case 'people':
      return stands(facts.people - Number(value), comparison)
    case 'hour':
      return stands(new Date(facts.atMs).getUTCHours() - Number(value), comparison)
    case 'release':
      return isNegated
        ? facts.releases.every((release) => compareVersions(release, value) !== 0)
        : facts.releases.some((release) => stands(compareVersions(release, value), comparison))
    default:
      return assertNever(field)
  }
}
