import { Problem } from '@dystracer/core/basics/problem'
import type { FiredRow, RuleRecord } from '@dystracer/core/faults/intake-wire'
import { proposeThreshold } from '@dystracer/core/faults/propose-threshold'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { faultOf, firedRow } from './histories.js'
import { toRow } from './intake.commands.js'
import { itemByKey, judge } from './judgement.js'
import { LIST_ENVIRONMENT_OF_FAULT } from './records.queries.js'
import { type FiringRow, firingsOf, readRules } from './rules.js'

const WEEK_MS = 7 * 86_400_000
const WEEKS = 9
const SHOWN_MAX = 50

/** A rule, what it did, what people did with that by week, and what it could ask for so that less of it is rejected. Throws `not-found`. */
export function readIntakeRule(ctx: ServiceContext, who: Who, { project, ruleId }: { project: string; ruleId: string }): RuleRecord {
  const rules = readRules(ctx, project)
  const rule = rules.find((one) => one.ruleId === ruleId)
  if (!rule) throw new Problem('not-found', { detail: 'There is no such rule. Perhaps somebody removed it.' })
  const firings = firingsOf(ctx, ruleId)
  const judged = firings.map((firing) => ({ firing, ...judge(ctx, who, itemByKey(ctx, firing.key)) }))
  const logged = judged.filter(({ firing }) => firing.outcome === 'logged')
  const count = (judgement: FiredRow['judgement'], rows = logged) => rows.filter((row) => row.judgement === judgement).length
  const firstMs = ctx.nowMs() - WEEKS * WEEK_MS
  return {
    rule: toRow(ctx, rule, rules),
    sinceMs: firings.at(-1)?.atMs ?? null,
    taken: count('taken'),
    rejected: count('rejected'),
    waiting: count('waiting'),
    weeks: Array.from({ length: WEEKS }, (_, week) => {
      const fromMs = firstMs + week * WEEK_MS
      const rows = logged.filter(({ firing }) => firing.atMs > fromMs && firing.atMs <= fromMs + WEEK_MS)
      return { fromMs, taken: count('taken', rows), rejected: count('rejected', rows), waiting: count('waiting', rows) }
    }),
    rows: judged.slice(0, SHOWN_MAX).map(({ firing, ...judgement }) => ({ ...rowOf(ctx, firing), ...judgement })),
    proposal: proposeThreshold(
      logged.flatMap(({ firing, judgement }) => (judgement === null ? [] : [{ judgement, count: firing.count, people: firing.people }])),
    ),
  }
}

function rowOf(ctx: ServiceContext, firing: FiringRow): Omit<FiredRow, 'key' | 'judgement' | 'words'> {
  const fault = faultOf(ctx, firing.number)
  const environments = sql(ctx.volume, LIST_ENVIRONMENT_OF_FAULT).all<{ environment: string }>({ fingerprint: fault?.fingerprint ?? '' })
  return firedRow(firing, fault, { environment: environments.map((row) => row.environment).join(', '), release: null })
}
