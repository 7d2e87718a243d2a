import { setImmediate } from 'node:timers/promises'
import type { Finding } from '@dystracer/core/builds/reports/report'
import { readQualityRule, ruleFor, type QualityRule, type ReadQualityRule } from '@dystracer/core/quality/quality-rule'
import type { QualityFiring, QualityRuleRow, QualityRules, QualityTrial } from '@dystracer/core/quality/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { maySee } from '#subjects/records/index'
import { requireProject } from '#subjects/setup/index'
import { coverageOf, failuresOf, findingOf, type Candidate } from './candidates.js'
import { foundBefore } from './quality-items.js'
import { qualityRulesOf } from './rules.js'
import {
  COUNT_FIRINGS,
  COUNT_JUDGED,
  GET_ITEM_TO_JUDGE,
  HAS_FIRED,
  LIST_BUILDS_SINCE,
  LIST_FINDINGS_SINCE,
  LIST_REPOSITORIES,
} from './rules.queries.js'

const DAY_MS = 86_400_000
const WEEK_MS = 7 * DAY_MS
/** More than this is no answer that a person reads; the count says how many there were. */
const ROWS_MAX = 200
const LOOKED_MAX = 20_000
/** Others are answered between so many builds. */
const BUILDS_AT_ONCE = 20

/** The rules of a project in their order, with what each did and what people did with that. */
export function listQualityRules(ctx: ServiceContext, project: string): QualityRules {
  requireProject(ctx.db, project)
  const { rules, isDefault } = qualityRulesOf(ctx, project)
  return { rows: rules.map((rule) => toRow(ctx, project, rule)), isDefault }
}

function toRow(ctx: ServiceContext, project: string, rule: QualityRule): QualityRuleRow {
  const of = { project, ruleId: rule.ruleId }
  const counted = sql(ctx.db, COUNT_FIRINGS).get<Pick<QualityRuleRow, 'fired' | 'week' | 'lastFiredAtMs'>>({
    ...of,
    sinceMs: ctx.nowMs() - WEEK_MS,
  }) ?? { fired: 0, week: 0, lastFiredAtMs: null }
  const { taken, rejected, judged } = sql(ctx.db, COUNT_JUDGED).get<{ taken: number; rejected: number; judged: number }>(of) ?? {
    taken: 0,
    rejected: 0,
    judged: 0,
  }
  return { ...rule, ...counted, taken, rejected, waiting: judged - taken - rejected }
}

/**
 * What a rule would have done about what builds of a project's repositories brought in the last days, by the same code that holds for what
 * comes; how many of these the rules as they stand took. Nothing is written. Others are answered meanwhile.
 */
export async function tryQualityRule(
  ctx: ServiceContext,
  who: Who,
  project: string,
  { rule, days }: { rule: QualityRule; days: number },
): Promise<QualityTrial> {
  requireProject(ctx.db, project)
  const tried: ReadQualityRule[] = [{ ...readQualityRule(rule), isDraft: false }]
  const standing = qualityRulesOf(ctx, project).rules.map(readQualityRule)
  const fired = new Map<string, { candidate: Candidate; atMs: number }>()
  let [looked, byStanding, isCut] = [0, 0, false]
  for await (const { candidate, atMs } of past(ctx, project, rule.about, ctx.nowMs() - days * DAY_MS)) {
    if (++looked > LOOKED_MAX) {
      isCut = true
      break
    }
    if (fired.has(candidate.idempotencyKey) || ruleFor(tried, candidate.facts) === null) continue
    fired.set(candidate.idempotencyKey, { candidate, atMs })
    if (ruleFor(standing, candidate.facts)?.act === 'log') byStanding++
  }
  const rows = [...fired.values()].reverse().slice(0, ROWS_MAX)
  return {
    days,
    looked: Math.min(looked, LOOKED_MAX),
    fired: fired.size,
    standing: byStanding,
    rows: rows.map(({ candidate, atMs }) => toFiring(ctx, who, candidate, atMs)),
    isCut,
  }
}

/** What builds brought since a time, oldest first within each repository. */
async function* past(
  ctx: ServiceContext,
  project: string,
  about: QualityRule['about'],
  sinceMs: number,
): AsyncGenerator<{ candidate: Candidate; atMs: number }> {
  for (const { repository } of sql(ctx.db, LIST_REPOSITORIES).all<{ repository: string }>({ project })) {
    if (about === 'finding') {
      for (const { sha, atMs, ...finding } of sql(ctx.db, LIST_FINDINGS_SINCE).all<Finding & { sha: string; atMs: number }>({
        repository,
        sinceMs,
      }))
        yield { candidate: findingOf({ repository, sha }, finding), atMs }
      continue
    }
    let count = 0
    for (const { number, atMs } of sql(ctx.db, LIST_BUILDS_SINCE).all<{ number: number; atMs: number }>({ repository, sinceMs })) {
      if (++count % BUILDS_AT_ONCE === 0) await setImmediate()
      const of = { repository, build: number }
      const candidates = about === 'test' ? failuresOf(ctx, of) : [coverageOf(ctx, of)].filter((one) => one !== null)
      for (const candidate of candidates) yield { candidate, atMs }
    }
  }
}

function toFiring(ctx: ServiceContext, who: Who, candidate: Candidate, atMs: number): QualityFiring {
  const { idempotencyKey: identity, title, place } = candidate
  const known = foundBefore(ctx, identity) ?? sql(ctx.db, HAS_FIRED).get<{ key: string }>({ identity })?.key ?? null
  const key = known !== null && maySee(ctx.db, who, known) ? known : null
  const item =
    key === null
      ? undefined
      : sql(ctx.db, GET_ITEM_TO_JUDGE).get<{ acceptedAtMs: number | null; stageRank: number; disposition: string | null }>({ key })
  const judgement = !item
    ? null
    : item.disposition !== null
      ? 'rejected'
      : item.acceptedAtMs !== null || item.stageRank > 0
        ? 'taken'
        : 'waiting'
  return { what: title.slice(0, 200), place, atMs, key, judgement }
}
