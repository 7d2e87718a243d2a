import { Problem } from '@dystracer/core/basics/problem'
import type { IntakeRule } from '@dystracer/core/faults/intake-rule'
import type { IntakeRuleInput, IntakeRuleRow } from '@dystracer/core/faults/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { itemsOfFault } from './fault-items.js'
import { environmentKinds, fires, type GroupRow, logFromFault } from './intake-rules.js'
import {
  GET_FAULT_BY_NUMBER,
  GET_FAULT_GROUP,
  GET_INTAKE_RULE,
  GET_SERVICE_BY_NAME,
  LIST_FAULT_OF_PROJECT,
  LIST_INTAKE_RULE_WITH_FIRINGS,
} from './intake-rules.queries.js'

const MINUTE_MS = 60_000
/** Faults that a trial looks at, the newest first; and how many of them it shows. */
const TRIED_MAX = 2000
const SHOWN_MAX = 20

/** The rules of a project, each with how often it has fired. */
export function listIntakeRules(ctx: ServiceContext, project: string): IntakeRuleRow[] {
  return sql(ctx.db, LIST_INTAKE_RULE_WITH_FIRINGS)
    .all<Omit<IntakeRuleRow, 'windowMinutes'> & { windowMs: number }>({ project })
    .map(({ windowMs, ...row }) => ({ ...row, windowMinutes: Math.max(1, Math.round(windowMs / MINUTE_MS)) }))
}

/** Sets a rule up or changes it; it holds for what comes. Throws `conflict` for the id of another project's rule. */
export function setIntakeRule(ctx: ServiceContext, who: Who, place: { project: string; ruleId: string }, input: IntakeRuleInput): void {
  const { project, ruleId } = place
  if (!/^[a-z0-9][a-z0-9-]{0,39}$/.test(ruleId))
    throw new Problem('invalid-input', { fields: { ruleId: 'Small letters, digits and hyphens' } })
  const known = sql(ctx.db, GET_INTAKE_RULE).get<{ project: string }>({ ruleId })
  if (known && known.project !== project) throw new Problem('conflict', { detail: 'Another rule is called so. Take another id.' })
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

/** Removes a rule; the items that it made stay. Throws `not-found`. */
export function removeIntakeRule(ctx: ServiceContext, who: Who, { project, ruleId }: { project: string; ruleId: string }): void {
  const known = sql(ctx.db, GET_INTAKE_RULE).get<{ project: string; name: string }>({ ruleId })
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

/** Which faults of a project, among those that no item stands for, a rule would have made items of by now. Writes nothing. */
export function tryIntakeRule(
  ctx: ServiceContext,
  project: string,
  { windowMinutes, ...rest }: IntakeRuleInput,
): { looked: number; rows: { fault: string; service: string; type: string; message: string }[] } {
  const rule: IntakeRule = { ruleId: 'trial', ...rest, windowMs: windowMinutes * MINUTE_MS }
  const faults = sql(ctx.db, LIST_FAULT_OF_PROJECT)
    .all<{ number: number; fingerprint: string; service: string; type: string; message: string }>({ project, limit: TRIED_MAX })
    .filter(({ number }) => itemsOfFault(ctx, number).length === 0)
  const kinds = environmentKinds(ctx)
  const rows = faults.filter(({ fingerprint }) => {
    const group = sql(ctx.volume, GET_FAULT_GROUP).get<GroupRow>({ fingerprint })
    return group !== undefined && fires(ctx, rule, group, kinds)
  })
  return {
    looked: faults.length,
    rows: rows.slice(0, SHOWN_MAX).map(({ number, service, type, message }) => ({ fault: `F-${number}`, service, type, message })),
  }
}

/** Logs an item for a fault by hand; gives its key. Throws `not-found`, and `conflict` where one stands for it already. */
export function logFault(ctx: ServiceContext, who: Who, fault: string): string {
  const number = Number(fault.slice(2))
  const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ fingerprint: string; service: string; merged_into: number | null }>({ number })
  const group = row && sql(ctx.volume, GET_FAULT_GROUP).get<GroupRow>({ fingerprint: row.fingerprint })
  if (!row || !group) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  if (row.merged_into !== null) throw new Problem('conflict', { detail: `${fault} went into F-${row.merged_into}. Log that one.` })
  const [known] = itemsOfFault(ctx, number)
  if (known) throw new Problem('conflict', { detail: `${known} stands for ${fault} already.` })
  const service = sql(ctx.db, GET_SERVICE_BY_NAME).get<{ project: string; repository: string }>({ name: row.service })
  if (!service)
    throw new Problem('conflict', { detail: `${row.service} belongs to no project yet. Connect it under Faults, Connect; then log this.` })
  return ctx.journal.write((writer) =>
    logFromFault(ctx, writer, { by: { actor: who.actor, cause: 'by hand', personId: who.personId }, group, number, ...service }),
  )
}
