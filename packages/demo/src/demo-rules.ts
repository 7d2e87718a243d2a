import type { FaultsEvents } from '@dystracer/core/faults/events'

type Rule = Omit<FaultsEvents['rule-added'], 'project'>

const DEED = {
  type: 'defect',
  labels: [],
  severity: null,
  ownerId: null,
  component: null,
  milestone: null,
  isAccepted: false,
  tiesAlike: false,
  tellIds: [],
} as const

/** What Emberwick has done about faults by itself: the first logs, the second presses, the third is only being thought about. */
export const DEMO_RULES: readonly Rule[] = [
  {
    ruleId: 'live-faults',
    name: 'live faults',
    environmentKind: 'production',
    severityAtLeast: 'error',
    countAtLeast: 5,
    windowMs: 600_000,
    deed: { ...DEED, act: 'log', labels: [], tellIds: [] },
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
    deed: { ...DEED, act: 'raise', severity: 2, labels: [], tellIds: [] },
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
    deed: { ...DEED, act: 'log', type: 'task', labels: ['before-release'], tiesAlike: true, tellIds: [] },
    perDay: 4,
    isDraft: true,
  },
]
