import { Problem } from '@dystracer/core/basics/problem'
import type { ReadRule } from '@dystracer/core/faults/intake-rule'
import type { IntakeRuleInput, IntakeRuleRow, IntakeRules } from '@dystracer/core/faults/intake-wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { isPerson } from '#subjects/people/index'
import { readSetup, requireProject } from '#subjects/setup/index'
import { countFirings, readBudgets, readRules } from './rules.js'
import { GET_RULE_PROJECT, HAS_COMPONENT } from './rules.queries.js'

const MINUTE_MS = 60_000
const HOUR_MS = 60 * MINUTE_MS
const WEEK_MS = 7 * 24 * HOUR_MS

/** The rules of a project in their order, what each did, and the budget with what is used of it. */
export function listIntakeRules(ctx: ServiceContext, project: string): IntakeRules {
  requireProject(ctx.db, project)
  const nowMs = ctx.nowMs()
  const { logged, perHour, perDay } = readBudgets(ctx, project, nowMs)
  const rules = readRules(ctx, project)
  return {
    rows: rules.map((rule) => toRow(ctx, rule, rules)),
    budget: { perHour, perDay, usedHour: logged.filter((one) => one.atMs > nowMs - HOUR_MS).length, usedDay: logged.length },
  }
}

/** A rule as a line of the list. */
export function toRow(ctx: ServiceContext, rule: ReadRule, rules: readonly ReadRule[]): IntakeRuleRow {
  const { filter: _read, windowMs, deed, ...rest } = rule
  return {
    ...rest,
    deed: { ...deed, labels: [...deed.labels], tellIds: [...deed.tellIds] },
    windowMinutes: Math.max(1, Math.round(windowMs / MINUTE_MS)),
    ...countFirings(ctx, rule.ruleId, ctx.nowMs() - WEEK_MS),
    warnings: warningsOf(ctx, rule, rules),
  }
}

/** What speaks against a rule as it stands, in words. */
function warningsOf(ctx: ServiceContext, rule: ReadRule, rules: readonly ReadRule[]): string[] {
  const warnings: string[] = []
  const { deed, filter } = rule
  if (filter.kind === 'or' && filter.parts.length === 0) warnings.push('Its condition is not understood any more; it holds for nothing.')
  if (deed.act === 'log' && rule.countAtLeast === 1 && rule.environmentKind === 'any' && rule.where === '' && rule.peopleAtLeast === 0)
    warnings.push('It takes every fault, wherever it happens. Ask for more times, for people hit, or set a budget.')
  if (contradicts(rule)) warnings.push('Its conditions exclude each other: nothing can meet it.')
  if (deed.act === 'log' && / (?:open|settled)\b/.test(` ${rule.where}`) && !/not \(?(?:open|settled)/.test(rule.where))
    warnings.push('A fault that an item stands for is never logged a second time: with “open” or “settled” it logs nothing.')
  if (rule.windowMs > ctx.config.keepDays * 24 * HOUR_MS)
    warnings.push(`It looks back further than the ${ctx.config.keepDays} days that are kept.`)
  const before = rules.slice(0, rules.indexOf(rule)).find((other) => !other.isDraft && !other.goesOn && takesAllOf(other, rule))
  if (before) warnings.push(`“${before.name}” stands before it and takes all that this one would.`)
  return warnings
}

/** A condition of several that asks two values of one field. */
function contradicts({ filter }: ReadRule): boolean {
  if (filter.kind !== 'and') return false
  const wanted = new Map<string, string>()
  return filter.parts.some((part) => {
    if (part.kind !== 'compare' || part.comparison !== '=' || !['service', 'environment', 'repository', 'day'].includes(part.field))
      return false
    const known = wanted.get(part.field)
    wanted.set(part.field, part.value.toLowerCase())
    return known !== undefined && known !== part.value.toLowerCase()
  })
}

/** Whether a rule asks no more than another in anything, so that it takes all that the other would. */
function takesAllOf(wide: ReadRule, narrow: ReadRule): boolean {
  return (
    wide.where === '' &&
    (wide.environmentKind === 'any' || wide.environmentKind === narrow.environmentKind) &&
    wide.severityAtLeast === narrow.severityAtLeast &&
    wide.countAtLeast <= narrow.countAtLeast &&
    wide.windowMs >= narrow.windowMs &&
    wide.peopleAtLeast <= narrow.peopleAtLeast
  )
}

/** Sets a rule up or changes it; it holds for what comes. Throws `conflict` for the id of another project's rule. */
export function setIntakeRule(ctx: ServiceContext, who: Who, place: { project: string; ruleId: string }, input: IntakeRuleInput): void {
  const { project, ruleId } = place
  if (!/^[a-z0-9][a-z0-9-]{0,39}$/.test(ruleId))
    throw new Problem('invalid-input', { fields: { ruleId: 'Small letters, digits and hyphens' } })
  const known = sql(ctx.db, GET_RULE_PROJECT).get<{ project: string }>({ ruleId })
  if (known && known.project !== project) throw new Problem('conflict', { detail: 'Another rule is called so. Take another id.' })
  checkDeed(ctx, project, input)
  const { windowMinutes, ...rest } = input
  ctx.journal.write((writer) => {
    writer.append({
      kind: known ? 'rule-changed' : 'rule-added',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { ruleId, project, ...rest, windowMs: windowMinutes * MINUTE_MS },
    })
  })
}

function checkDeed(ctx: ServiceContext, project: string, { deed }: IntakeRuleInput): void {
  const fields: Record<string, string> = {}
  const setup = readSetup(ctx.db, project)
  if (!setup.types.some((type) => type.type === deed.type)) fields['deed.type'] = `${project} has no type ${deed.type}`
  if (deed.component !== null && !sql(ctx.db, HAS_COMPONENT).get({ component: deed.component }))
    fields['deed.component'] = `There is no component ${deed.component}`
  if (deed.milestone !== null && !setup.milestones.some((milestone) => milestone.name === deed.milestone))
    fields['deed.milestone'] = `${project} has no milestone ${deed.milestone}`
  if (deed.ownerId !== null && !isPerson(ctx.db, deed.ownerId)) fields['deed.ownerId'] = 'There is no such person'
  if (deed.tellIds.some((personId) => !isPerson(ctx.db, personId))) fields['deed.tellIds'] = 'One of them is no person here'
  if (Object.keys(fields).length > 0) throw new Problem('invalid-input', { fields })
}

/** Says in which order the rules are asked. Throws `conflict` where the list is not that of the rules any more. */
export function orderIntakeRules(ctx: ServiceContext, who: Who, project: string, ruleIds: readonly string[]): void {
  const known = readRules(ctx, project).map((rule) => rule.ruleId)
  if (known.length !== ruleIds.length || known.some((ruleId) => !ruleIds.includes(ruleId)))
    throw new Problem('conflict', { detail: 'The rules have changed since. Look again, then order them.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'rules-ordered', actor: who.actor, subjects: [`project:${project}`], body: { project, ruleIds: [...ruleIds] } })
  })
}

/** Says how many items all rules of a project may log. */
export function setIntakeBudget(
  ctx: ServiceContext,
  who: Who,
  project: string,
  budget: { perHour: number | null; perDay: number | null },
): void {
  requireProject(ctx.db, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'intake-budget-set', actor: who.actor, subjects: [`project:${project}`], body: { project, ...budget } })
  })
}

/** Removes a rule; the items that it made stay. Throws `not-found`. */
export function removeIntakeRule(ctx: ServiceContext, who: Who, { project, ruleId }: { project: string; ruleId: string }): void {
  const known = sql(ctx.db, GET_RULE_PROJECT).get<{ project: string; name: string }>({ ruleId })
  if (known?.project !== project) throw new Problem('not-found', { detail: 'There is no such rule.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'rule-removed',
      actor: who.actor,
      subjects: [`project:${project}`],
      body: { ruleId, project, name: known.name },
    })
  })
}
