import {
  DEFAULT_QUALITY_RULES,
  PLAIN_QUALITY_RULE,
  readQualityRule,
  type QualityRule,
  type QualitySubject,
  type ReadQualityRule,
} from '@dystracer/core/quality/quality-rule'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { GET_RULES } from './rules.queries.js'

/** The rules of a project in the order in which they are asked; those that hold for every project where it said nothing. */
export function qualityRulesOf(ctx: Pick<ServiceContext, 'db'>, project: string): { rules: readonly QualityRule[]; isDefault: boolean } {
  const row = sql(ctx.db, GET_RULES).get<{ rules: string }>({ project })
  if (!row) return { rules: DEFAULT_QUALITY_RULES, isDefault: true }
  // Rules that were set before there was a field leave it as a plain rule has it.
  const rules = (JSON.parse(row.rules) as QualityRule[]).map((rule) => ({ ...PLAIN_QUALITY_RULE, ...rule }))
  return { rules, isDefault: false }
}

/** Those that look at one kind of thing, their conditions read. */
export function readRulesAbout(ctx: Pick<ServiceContext, 'db'>, project: string, about: QualitySubject): ReadQualityRule[] {
  return qualityRulesOf(ctx, project)
    .rules.filter((rule) => rule.about === about)
    .map(readQualityRule)
}
