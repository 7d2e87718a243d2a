import type { FaultsEvents } from '@dystracer/core/faults/events'
import { PLAIN_DEED } from '@dystracer/core/faults/intake-rule'

type Rule = Omit<FaultsEvents['rule-added'], 'project'>

/** What Emberwick has done about faults by itself: the first logs, the second presses, the third is only being thought about. */
export const DEMO_RULES: readonly Rule[] = [
  {
    ruleId: 'live-faults',
    name: 'live faults',
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast: 5,
    windowMs: 600_000,
    deed: { ...PLAIN_DEED, act: 'log' },
    perHour: 6,
    perDay: null,
    goesOn: true,
  },
  {
    ruleId: 'many-people',
    name: 'many people at once',
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast: 1,
    windowMs: 3_600_000,
    peopleAtLeast: 10,
    where: 'open (new or spike)',
    deed: { ...PLAIN_DEED, act: 'raise', severity: 2 },
    goesOn: true,
  },
  {
    ruleId: 'staging-alone',
    name: 'staging alone',
    environmentKind: 'any',
    severityAtLeast: 'error',
    countAtLeast: 3,
    windowMs: 3_600_000,
    where: 'environment=staging untied new',
    deed: { ...PLAIN_DEED, act: 'log', type: 'task', labels: ['before-release'], tiesAlike: true },
    perDay: 4,
    isDraft: true,
  },
]
