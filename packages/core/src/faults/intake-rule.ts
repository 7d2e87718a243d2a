import { SEVERITY_LEVELS, type SeverityName } from '#basics/severity-levels'
import type { FaultFilter } from './fault-filter.js'

/** What a rule does once a fault is as it asks. */
export const RULE_ACTS = ['log', 'reopen', 'raise', 'remark', 'silence', 'tell', 'incident'] as const
/** One of those. */
export type RuleAct = (typeof RULE_ACTS)[number]

/** What a rule does, and with which values. What does not concern its act is kept and not used. */
export interface RuleDeed {
  act: RuleAct
  /** Of the item that is logged. */
  type: string
  labels: readonly string[]
  /** Of the item that is logged or the incident that is opened, or to which the open item is raised; null leaves it to people. */
  severity: 1 | 2 | 3 | 4 | 5 | null
  ownerId: string | null
  component: string | null
  milestone: string | null
  /** Whether what it logs is taken without Triage. */
  isAccepted: boolean
  /** Where an open item stands for a fault at the same place of the code, that one stands for this fault, too. */
  tiesAlike: boolean
  tellIds: readonly string[]
  /** What is remarked on the open item that stands for the fault. */
  remark: string
  /** What the item says that is logged, with room for what is known (see `fillText`); empty: all that is known. */
  text: string
}

/** What turns a fault into an item, or does something else about it. */
export interface IntakeRule {
  ruleId: string
  name: string
  environmentKind: 'production' | 'any'
  severityAtLeast: SeverityName
  /** Occurrences within the window that make it fire. */
  countAtLeast: number
  windowMs: number
  /** People hit by then; 0 where that does not matter. */
  peopleAtLeast: number
  /** Further conditions in the grammar of filters; empty for none. */
  where: string
  deed: RuleDeed
  /** At most so many items; those beyond go into one that gathers them. Null: no limit. */
  perHour: number | null
  perDay: number | null
  /** Whether the rules after it are asked about a fault that it took. */
  goesOn: boolean
  /** A draft is tried and shown; it does nothing. */
  isDraft: boolean
}

/** What a rule does that says nothing else: it logs a defect that waits in Triage. */
export const PLAIN_DEED: RuleDeed = {
  act: 'log',
  type: 'defect',
  labels: [],
  severity: null,
  ownerId: null,
  component: null,
  milestone: null,
  isAccepted: false,
  tiesAlike: false,
  tellIds: [],
  remark: '',
  text: '',
}

/** How severe an incident is that a rule opens without saying so. */
export const INCIDENT_SEVERITY = 2

/** A rule whose condition has been read. */
export interface ReadRule extends IntakeRule {
  filter: FaultFilter
}

/** Whether a rule concerns such an environment and such a severity at all. */
export function isConcerned(
  rule: Pick<IntakeRule, 'environmentKind' | 'severityAtLeast'>,
  { environmentKind, severityNumber }: { environmentKind: string; severityNumber: number },
): boolean {
  if (rule.environmentKind !== 'any' && environmentKind !== rule.environmentKind) return false
  return severityNumber >= SEVERITY_LEVELS[rule.severityAtLeast]
}
