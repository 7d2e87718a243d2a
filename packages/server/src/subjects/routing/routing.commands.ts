import { addDays, mondayOf } from '@dystracer/core/looking/calendar'
import { isPerson } from '#subjects/people/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { RoutingRules } from '@dystracer/core/routing/wire'
import { routeItem, type RoutingRule } from '@dystracer/core/routing/routing'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { changesOf, requireItem } from '#subjects/records/index'
import { requireProject } from '#subjects/setup/index'
import {
  COUNT_JOURNAL_SUBJECT_BY_SUBJECT,
  GET_PERSON_ID_OF_DUTY_BY_PROJECT_AND_WEEK_ON,
  GET_ROUTING_RULE_BY_RULE_ID,
  HAS_COMPONENT_BY_COMPONENT,
  LIST_DUTY_BY_PROJECT,
  LIST_ROUTING_RULE_BY_PROJECT,
} from './routing.queries.js'

const WEEKS_SHOWN = 8

function listRules(db: ServiceContext['db'], project: string): RoutingRule[] {
  return sql(db, LIST_ROUTING_RULE_BY_PROJECT)
    .all<{ rule_id: string; name: string; conditions: string; sets: string }>({ project })
    .map((row) => ({
      ruleId: row.rule_id,
      name: row.name,
      conditions: JSON.parse(row.conditions) as RoutingRule['conditions'],
      sets: JSON.parse(row.sets) as RoutingRule['sets'],
    }))
}

/** A project's routing rules in their order, with how often each has set something; and who is on duty in the weeks to come. */
export function readRouting(ctx: ServiceContext, project: string): RoutingRules {
  requireProject(ctx.db, project)
  const duty = new Map(
    sql(ctx.db, LIST_DUTY_BY_PROJECT)
      .all<{ week_on: string; person_id: string }>({ project })
      .map((row) => [row.week_on, row.person_id]),
  )
  const first = mondayOf(ctx.nowMs())
  return {
    rows: listRules(ctx.db, project).map((rule) => ({ ...rule, used: countUses(ctx, rule.ruleId) })),
    duty: Array.from({ length: WEEKS_SHOWN }, (_, week) => {
      const weekOn = addDays(first, week * 7)
      return { weekOn, personId: duty.get(weekOn) ?? null }
    }),
  }
}

function countUses(ctx: ServiceContext, ruleId: string): number {
  return (
    sql(ctx.db, COUNT_JOURNAL_SUBJECT_BY_SUBJECT).get<{ count: number }>({
      subject: `routing-rule:${ruleId}`,
    })?.count ?? 0
  )
}

export function setRoutingRule(ctx: ServiceContext, who: Who, project: string, rule: RoutingRule): void {
  requireProject(ctx.db, project)
  const { component, ownerId } = rule.sets
  if (component !== null && !sql(ctx.db, HAS_COMPONENT_BY_COMPONENT).get({ component }))
    throw new Problem('invalid-input', { fields: { component: `There is no component ${component}` } })
  if (ownerId !== null && !isPerson(ctx.db, ownerId)) throw new Problem('invalid-input', { fields: { ownerId: 'There is no such person' } })
  const known = sql(ctx.db, GET_ROUTING_RULE_BY_RULE_ID).get<{ position: number; project: string }>({
    ruleId: rule.ruleId,
  })
  if (known && known.project !== project)
    throw new Problem('conflict', { detail: 'Another project has a rule of this name. Choose another name.' })
  const position = known?.position ?? listRules(ctx.db, project).length
  ctx.journal.write((writer) => {
    writer.append({ kind: 'routing-rule-set', actor: who.actor, subjects: [`project:${project}`], body: { ...rule, project, position } })
  })
}

export function removeRoutingRule(ctx: ServiceContext, who: Who, project: string, ruleId: string): void {
  if (!listRules(ctx.db, project).some((rule) => rule.ruleId === ruleId))
    throw new Problem('not-found', { detail: 'This rule is not there any more.' })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'routing-rule-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, ruleId } })
  })
}

/** Says who is on duty in the week that begins on a Monday; null for nobody. */
export function setDuty(ctx: ServiceContext, who: Who, project: string, input: { weekOn: string; personId: string | null }): void {
  requireProject(ctx.db, project)
  if (mondayOf(Date.parse(`${input.weekOn}T12:00:00Z`)) !== input.weekOn)
    throw new Problem('invalid-input', { fields: { weekOn: 'A week begins on a Monday' } })
  if (input.personId !== null && !isPerson(ctx.db, input.personId))
    throw new Problem('invalid-input', { fields: { personId: 'There is no such person' } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'duty-set', actor: who.actor, subjects: [`project:${project}`], body: { project, ...input } })
  })
}

/** Who is on duty now; null where nobody is. */
export function onDuty(ctx: Pick<ServiceContext, 'db' | 'nowMs'>, project: string): string | null {
  return (
    sql(ctx.db, GET_PERSON_ID_OF_DUTY_BY_PROJECT_AND_WEEK_ON).get<{ person_id: string }>({
      project,
      weekOn: mondayOf(ctx.nowMs()),
    })?.person_id ?? null
  )
}

/**
 * Lets the rules fill what nobody filled on a new item, inside the write that logged it. A firing is a decision: it is journalled once and
 * replayed as it was (docs/rules.md#decisions).
 */
export function routeNewItem(ctx: Pick<ServiceContext, 'db'>, writer: JournalWriter, key: string, paths: readonly string[] = []): void {
  const row = requireItem(ctx, key)
  const rules = listRules(ctx.db, row.project)
  if (rules.length === 0) return
  const routed = routeItem(rules, {
    title: row.title,
    text: row.description,
    component: row.component,
    labels: JSON.parse(row.labels) as string[],
    paths,
    ownerId: row.owner_id,
    severity: row.severity,
    milestone: row.milestone,
    priority: row.priority,
  })
  for (const { ruleId, changes: wanted } of routed) {
    const changes = changesOf(requireItem(ctx, key), wanted)
    if (Object.keys(changes).length > 0)
      writer.append({
        kind: 'item-changed',
        actor: `rule:${ruleId}`,
        subjects: [`item:${key}`, `routing-rule:${ruleId}`],
        cause: 'routing',
        body: { key, changes },
      })
  }
}

export function dayOf(atMs: number): string {
  return new Date(atMs).toISOString().slice(0, 10)
}
