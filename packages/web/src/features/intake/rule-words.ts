import type { FiredRow, IntakeRuleInput, RuleTrial } from '@dystracer/core/faults/intake-wire'
import { INCIDENT_SEVERITY } from '@dystracer/core/faults/intake-rule'
import { plural } from '#shared/lib/format'

/** A span of minutes in its largest unit without a rest. */
export function windowWords(minutes: number): string {
  if (minutes % 1440 === 0) return plural(minutes / 1440, 'day')
  return minutes % 60 === 0 ? plural(minutes / 60, 'hour') : plural(minutes, 'minute')
}

/** A rule in one line of text. */
export function ruleWords(rule: IntakeRuleInput): string {
  const { deed } = rule
  const asks = [
    `${plural(rule.countAtLeast, 'time')} within ${windowWords(rule.windowMinutes)}`,
    rule.peopleAtLeast > 0 && plural(rule.peopleAtLeast, 'person', 'people'),
    `${rule.severityAtLeast} or worse`,
    rule.environmentKind === 'any' ? 'in any environment' : 'in production',
    rule.where && `where ${rule.where}`,
  ]
  const does = {
    log: `log a ${deed.type}${deed.isAccepted ? ', taken at once' : ''}`,
    raise: `raise its item to severity ${deed.severity ?? '?'}`,
    reopen: 'open its settled item again',
    remark: `remark “${deed.remark}” on its item`,
    silence: 'silence it',
    tell: `tell ${plural(deed.tellIds.length, 'person', 'people')}`,
    incident: `open an incident of severity ${deed.severity ?? INCIDENT_SEVERITY}`,
  }
  return `${asks.filter(Boolean).join(', ')}: ${does[deed.act]}`
}

/** What became of a fault, as a rule counts it. */
export const OUTCOME_WORD: Record<FiredRow['outcome'], string> = {
  logged: 'logged',
  tied: 'tied to open ones',
  gathered: 'gathered beyond the budget',
  reopened: 'opened again',
  raised: 'raised',
  remarked: 'remarked on',
  silenced: 'silenced',
  told: 'told',
  incident: 'made an incident',
}
/** The outcomes in the order in which they are told. */
export const OUTCOMES = Object.keys(OUTCOME_WORD) as (keyof RuleTrial['outcomes'])[]

/** What people did with what a rule logged. */
export function judgementWords({ judgement, words }: FiredRow): string {
  if (judgement === null) return ''
  const word = { taken: 'taken', rejected: 'rejected', waiting: 'waits in Triage' }[judgement]
  return words ? `${word}: ${words}` : word
}
