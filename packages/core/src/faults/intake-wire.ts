import { z } from 'zod'
import { SEVERITY_LEVELS, type SeverityName } from '#basics/severity-levels'
import { zAtMs } from '#basics/wire'
import { TEXT_PARTS, unknownParts } from './item-text.js'
import { parseFilterBy } from '#filter/parse-filter'
import { operation } from '#people/operation'
import { FAULT_VOCABULARY } from './fault-filter.js'
import { PLAIN_DEED, RULE_ACTS } from './intake-rule.js'

const SEVERITY_NAMES = Object.keys(SEVERITY_LEVELS) as [SeverityName, ...SeverityName[]]
/** Minutes are kept for long, but nobody waits for longer than a month. */
const WINDOW_MINUTES_MAX = 30 * 24 * 60
const zBudgetNumber = z.number().int().min(1, 'At least one').max(10_000).nullable()

const zDeed = z.strictObject({
  act: z.enum(RULE_ACTS).default(PLAIN_DEED.act),
  type: z.string().trim().min(1).max(30).default(PLAIN_DEED.type),
  labels: z.array(z.string().trim().min(1).max(40)).max(20).default([]),
  severity: z
    .union([z.literal(1), z.literal(2), z.literal(3), z.literal(4), z.literal(5)])
    .nullable()
    .default(null),
  ownerId: z.string().max(100).nullable().default(null),
  component: z.string().max(100).nullable().default(null),
  milestone: z.string().max(100).nullable().default(null),
  isAccepted: z.boolean().default(false),
  tiesAlike: z.boolean().default(false),
  tellIds: z.array(z.string().max(100)).max(50).default([]),
  remark: z.string().trim().max(2000).default(''),
  text: z.string().trim().max(10_000).default(''),
})

const RULE_SHAPE = {
  name: z.string().trim().min(1, 'A name is needed').max(60),
  environmentKind: z.enum(['production', 'any']).default('production'),
  severityAtLeast: z.enum(SEVERITY_NAMES).default('error'),
  countAtLeast: z.number().int().min(1, 'At least once').max(1000),
  windowMinutes: z.number().int().min(1, 'At least a minute').max(WINDOW_MINUTES_MAX, 'At most thirty days'),
  peopleAtLeast: z.number().int().min(0).max(100_000).default(0),
  where: z.string().trim().max(1000).default(''),
  deed: zDeed.default({ ...PLAIN_DEED, labels: [], tellIds: [] }),
  perHour: zBudgetNumber.default(null),
  perDay: zBudgetNumber.default(null),
  goesOn: z.boolean().default(false),
  isDraft: z.boolean().default(false),
}

function checkRule({ where, deed }: { where: string; deed: z.output<typeof zDeed> }, ctx: z.RefinementCtx): void {
  const parsed = parseFilterBy(FAULT_VOCABULARY, where)
  if ('error' in parsed)
    ctx.addIssue({
      code: 'custom',
      path: ['where'],
      message: `“${parsed.error.word}” is not understood here (character ${parsed.error.from + 1})`,
    })
  if (deed.act === 'raise' && deed.severity === null)
    ctx.addIssue({ code: 'custom', path: ['deed', 'severity'], message: 'To which severity?' })
  if (deed.act === 'remark' && deed.remark === '') ctx.addIssue({ code: 'custom', path: ['deed', 'remark'], message: 'Which words?' })
  const [unknown] = deed.act === 'log' ? unknownParts(deed.text) : []
  if (unknown !== undefined)
    ctx.addIssue({
      code: 'custom',
      path: ['deed', 'text'],
      message: `{${unknown}} is not known of a fault; there is ${TEXT_PARTS.map((part) => `{${part}}`).join(', ')}`,
    })
  if (deed.act === 'tell' && deed.tellIds.length === 0) ctx.addIssue({ code: 'custom', path: ['deed', 'tellIds'], message: 'Whom?' })
}

/** A rule as it is set up: when it holds, what it does, and how much it may. */
export const zIntakeRule = z.strictObject(RULE_SHAPE).superRefine(checkRule)
/** A rule to try: the one that it would take the place of, and how far back to look. */
export const zTryRule = z
  .strictObject({
    ...RULE_SHAPE,
    ruleId: z.string().max(40).nullable().default(null),
    days: z.number().int().min(1, 'At least a day').max(90, 'At most ninety days').default(30),
  })
  .superRefine(checkRule)
/** An intake rule with nothing left open. */
export type IntakeRuleInput = z.output<typeof zIntakeRule>

const zCounts = z.object({ logged: z.number().int(), gathered: z.number().int(), other: z.number().int() })
/** A rule with what it did: ever, and in the last seven days. */
export const zIntakeRuleRow = z.object({
  ...RULE_SHAPE,
  ruleId: z.string(),
  fired: z.number().int(),
  lastFiredAtMs: zAtMs.nullable(),
  week: zCounts,
  /** What speaks against it as it stands: it contradicts itself, fires on everything, or looks further back than is kept. */
  warnings: z.array(z.string()),
})
export type IntakeRuleRow = z.infer<typeof zIntakeRuleRow>
/** How many items all rules of a project may log; the rest goes into one. */
export const zIntakeBudget = z.strictObject({ perHour: zBudgetNumber, perDay: zBudgetNumber })
/** The rules of a project in their order, and its budget with what is used of it. */
export const zIntakeRules = z.object({
  rows: z.array(zIntakeRuleRow),
  budget: z.object({ ...zIntakeBudget.shape, usedHour: z.number().int(), usedDay: z.number().int() }),
})
export type IntakeRules = z.infer<typeof zIntakeRules>

const OUTCOMES = ['logged', 'tied', 'gathered', 'reopened', 'raised', 'remarked', 'silenced', 'told', 'incident'] as const
const JUDGEMENTS = ['taken', 'rejected', 'waiting'] as const
const zFired = z.object({
  fault: z.string(),
  service: z.string(),
  type: z.string(),
  message: z.string(),
  outcome: z.enum(OUTCOMES),
  atMs: zAtMs,
  environment: z.string(),
  count: z.number().int(),
  people: z.number().int(),
  release: z.string().nullable(),
  /** The item that stands for the fault by now, and what people did with it. */
  key: z.string().nullable(),
  judgement: z.enum(JUDGEMENTS).nullable(),
  words: z.string().nullable(),
})
export type FiredRow = z.infer<typeof zFired>
const zProposal = z.object({
  what: z.enum(['people', 'count']),
  atLeast: z.number().int(),
  rejectedAvoided: z.number().int(),
  rejected: z.number().int(),
  takenLost: z.number().int(),
  taken: z.number().int(),
})
const zOutcomes = z.object(
  Object.fromEntries(OUTCOMES.map((outcome) => [outcome, z.number().int()])) as Record<(typeof OUTCOMES)[number], z.ZodNumber>,
)
/** A rule run over what really came, beside the rule as it stands. */
export const zRuleTrial = z.object({
  days: z.number().int(),
  /** Faults and occurrences that were looked at, and how long that took. */
  looked: z.number().int(),
  occurrences: z.number().int(),
  tookMs: z.number(),
  outcomes: zOutcomes,
  /** The same of the rule as it stands; null where it is new. */
  standing: zOutcomes.nullable(),
  rows: z.array(zFired),
  /** What the rule as it stands did, and this one would not. */
  noLonger: z.array(zFired),
  /** Faults that people logged by hand, and this rule would not have. */
  missed: z.array(zFired),
  /** More than are listed. */
  more: z.number().int(),
})
export type RuleTrial = z.infer<typeof zRuleTrial>
/** What a rule did so far and what people did with that. */
export const zRuleRecord = z.object({
  rule: zIntakeRuleRow,
  sinceMs: zAtMs.nullable(),
  taken: z.number().int(),
  rejected: z.number().int(),
  waiting: z.number().int(),
  /** By week, the oldest first. */
  weeks: z.array(z.object({ fromMs: zAtMs, taken: z.number().int(), rejected: z.number().int(), waiting: z.number().int() })),
  rows: z.array(zFired),
  proposal: zProposal.nullable(),
})
export type RuleRecord = z.infer<typeof zRuleRecord>

const RULES = '/projects/:project/intake-rules'
/** What can be asked of intake rules. */
export const intakeOperations = {
  listIntakeRules: operation({
    method: 'get',
    path: RULES,
    summary: 'What is done about faults by itself: the rules in their order, and their budget',
    may: 'project.read',
    about: 'project',
    answer: zIntakeRules,
  }),
  readIntakeRule: operation({
    method: 'get',
    path: `${RULES}/:ruleId`,
    summary: 'One rule with what it did and what people did with that',
    may: 'project.read',
    about: 'project',
    answer: zRuleRecord,
  }),
  tryIntakeRule: operation({
    method: 'post',
    path: `${RULES}/trial`,
    summary: 'What a rule would have done about what came in the last days, beside the rule as it stands; nothing is written',
    may: 'intake-rules.change',
    about: 'project',
    body: zTryRule,
    answer: zRuleTrial,
  }),
  setIntakeRule: operation({
    method: 'put',
    path: `${RULES}/:ruleId`,
    summary: 'Set up an intake rule, or change it; it holds for what comes',
    may: 'intake-rules.change',
    about: 'project',
    body: zIntakeRule,
    answer: zIntakeRules,
  }),
  orderIntakeRules: operation({
    method: 'put',
    path: RULES,
    summary: 'In which order the rules are asked',
    may: 'intake-rules.change',
    about: 'project',
    body: z.strictObject({ ruleIds: z.array(z.string().max(40)).max(500) }),
    answer: zIntakeRules,
  }),
  setIntakeBudget: operation({
    method: 'put',
    path: '/projects/:project/intake-budget',
    summary: 'How many items all rules together may log in an hour and a day; the rest goes into one',
    may: 'intake-rules.change',
    about: 'project',
    body: zIntakeBudget,
    answer: zIntakeRules,
  }),
  removeIntakeRule: operation({
    method: 'delete',
    path: `${RULES}/:ruleId`,
    summary: 'Remove an intake rule; items that it made stay',
    may: 'intake-rules.change',
    about: 'project',
    answer: zIntakeRules,
  }),
}
