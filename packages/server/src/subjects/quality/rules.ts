import {
  DEFAULT_QUALITY_RULES,
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
  return row ? { rules: JSON.parse(row.rules) as QualityRule[], isDefault: false } : { rules: DEFAULT_QUALITY_RULES, isDefault: true }
}

/** Those that look at one kind of thing, their conditions read. */
export function readRulesAbout(ctx: Pick<ServiceContext, 'db'>, project: string, about: QualitySubject): ReadQualityRule[] {
  return qualityRulesOf(ctx, project)
    .rules.filter((rule) => rule.about === about)
    .map(readQualityRule)
}
