import { FAULT_VOCABULARY } from '@dystracer/core/faults/fault-filter'
import { type IntakeRule, PLAIN_DEED, type ReadRule, type RuleDeed } from '@dystracer/core/faults/intake-rule'
import type { IntakeRuleInput } from '@dystracer/core/faults/intake-wire'
import type { Budgets, Outcome } from '@dystracer/core/faults/run-rules'
import { parseFilterBy } from '@dystracer/core/filter/parse-filter'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { COUNT_FIRING, GET_BUDGET, HAS_FIRED, LIST_FIRING, LIST_LOGGED_SINCE, LIST_RULE } from './rules.queries.js'

type Context = Pick<ServiceContext, 'db'>
const MINUTE_MS = 60_000
const DAY_MS = 86_400_000

type RuleRow = Omit<IntakeRule, 'deed' | 'goesOn' | 'isDraft'> & { deed: string; goesOn: number; isDraft: number }

/** The rules of a project in the order in which they are asked, their conditions read. */
export function readRules(ctx: Context, project: string): ReadRule[] {
  return sql(ctx.db, LIST_RULE)
    .all<RuleRow>({ project })
    .map(({ deed, goesOn, isDraft, ...rule }) =>
      withFilter({
        ...rule,
        deed: { ...PLAIN_DEED, ...(JSON.parse(deed) as Partial<RuleDeed>) },
        goesOn: goesOn === 1,
        isDraft: isDraft === 1,
      }),
    )
}

/** A rule as it was put in, as the one that runs. */
export function ruleOf(ruleId: string, { windowMinutes, ...input }: IntakeRuleInput): ReadRule {
  return withFilter({ ...input, ruleId, windowMs: windowMinutes * MINUTE_MS })
}

/** A condition is checked before it is stored; one that is not understood any more holds for nothing. */
function withFilter(rule: IntakeRule): ReadRule {
  const parsed = parseFilterBy(FAULT_VOCABULARY, rule.where)
  return { ...rule, filter: 'filter' in parsed ? parsed.filter : { kind: 'or', parts: [] } }
}

/** How many items the rules of a project may log, and what they logged in the day before a time. */
export function readBudgets(ctx: Context, project: string, atMs: number): Budgets {
  const budget = sql(ctx.db, GET_BUDGET).get<Pick<Budgets, 'perHour' | 'perDay'>>({ project }) ?? { perHour: null, perDay: null }
  return { ...budget, logged: sql(ctx.db, LIST_LOGGED_SINCE).all<Budgets['logged'][number]>({ project, sinceMs: atMs - DAY_MS }) }
}

/** Whether a rule fired for a fault already. */
export function hasFired(ctx: Context, ruleId: string, number: number): boolean {
  return sql(ctx.db, HAS_FIRED).get({ ruleId, number }) !== undefined
}

/** One thing that a rule did. */
export interface FiringRow {
  number: number
  key: string
  atMs: number
  outcome: Outcome
  count: number
  people: number
}

/** All that a rule did, the newest first. */
export function firingsOf(ctx: Context, ruleId: string): FiringRow[] {
  return sql(ctx.db, LIST_FIRING).all<FiringRow>({ ruleId })
}

/** How often a rule did something ever, and what since a time. */
export function countFirings(
  ctx: Context,
  ruleId: string,
  sinceMs: number,
): { fired: number; lastFiredAtMs: number | null; week: { logged: number; gathered: number; other: number } } {
  const row = sql(ctx.db, COUNT_FIRING).get<{
    fired: number
    lastFiredAtMs: number | null
    logged: number | null
    gathered: number | null
    other: number | null
  }>({ ruleId, sinceMs })
  return {
    fired: row?.fired ?? 0,
    lastFiredAtMs: row?.lastFiredAtMs ?? null,
    week: { logged: row?.logged ?? 0, gathered: row?.gathered ?? 0, other: row?.other ?? 0 },
  }
}
