import type { QualityRule, QualitySubject } from '@dystracer/core/quality/quality-rule'
import type { QualityRuleRow } from '@dystracer/core/quality/wire'
import { plural } from '#shared/lib/format'

/** What rules are about, as the beginning of a sentence. */
export const ABOUT_WORDS: Record<QualitySubject, string> = {
  test: 'a test that fails',
  finding: 'a finding that is new',
  coverage: 'the coverage of a build',
}

/** A condition that shows what can be said. */
export const EXAMPLES: Record<QualitySubject, string> = {
  test: 'anything, or such as: main builds>=2 not test=flaky*',
  finding: 'anything, or such as: level=error path=src/* tool!=spell',
  coverage: 'anything, or such as: main fell>=1 covered<80',
}

/** A rule in one line of text. */
export function qualityRuleWords({ about, where, act, type, severity, isAccepted, perDay }: QualityRule): string {
  const does =
    act === 'nothing' ? 'nothing, and no rule below is asked' : `log a ${type}${severity === null ? '' : ` of severity ${severity}`}`
  const how = act === 'log' ? `${isAccepted ? ', taken at once' : ''}${perDay === null ? '' : `, at most ${perDay} a day`}` : ''
  return `${ABOUT_WORDS[about]}${where === '' ? '' : ` where ${where}`}: ${does}${how}`
}

/** What a rule did, and what people did with that. */
export function didWords({ fired, week, taken, rejected, waiting }: QualityRuleRow): string {
  if (fired === 0) return 'has taken nothing yet'
  const judged = [taken > 0 && `${taken} taken`, rejected > 0 && `${rejected} rejected`, waiting > 0 && `${waiting} waiting`].filter(
    Boolean,
  )
  return `took ${plural(fired, 'thing')}, ${week} of them this week${judged.length > 0 ? `; of its items ${judged.join(', ')}` : ''}`
}

/** What of a row is the rule itself, as it is set. */
export function ruleOf({
  fired: _fired,
  week: _week,
  lastFiredAtMs: _last,
  taken: _taken,
  rejected: _rejected,
  waiting: _waiting,
  ...rule
}: QualityRuleRow): QualityRule {
  return rule
}
