import type { Grouping } from '@dystracer/core/traces/grouping'
import { ruleFires, type IntakeRule } from '@dystracer/core/faults/intake-rule'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { itemsOfFault } from './fault-items.js'
import type { ServiceContext } from '#platform/context'
import { intakeWorker } from '#subjects/occurrences/index'
import { assertLink, nextItemKey } from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import {
  GET_FAULT_BY_FINGERPRINT,
  GET_FAULT_GROUP_BY_FINGERPRINT,
  GET_NAME_OF_COMPONENT_BY_REPOSITORY,
  GET_NUMBER_OF_FAULT,
  GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT,
  GET_SERVICE_BY_NAME,
  GET_VALUE_OF_META,
  HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER,
  INSERT_META,
  LIST_ENVIRONMENT,
  LIST_FAULT_RELEASE_BY_FINGERPRINT,
  LIST_GROUP_CHANGE_BY_CURSOR,
  LIST_INTAKE_RULE_BY_PROJECT,
  LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT,
} from './follow-faults.queries.js'

interface GroupRow {
  fingerprint: string
  service: string
  grouping: string
  trace_digest: string
  first_at_ms: number
  last_at_ms: number
  severity_number: number
}
const BATCH = 500

/**
 * Follows the volume database by its outbox and turns what is new into journal events: faults found, faults seen in another release, rules
 * fired. Runs on start (for what came
 * in before a crash) and whenever the intake worker says that something changed.
 */
export function followFaults(ctx: ServiceContext): void {
  for (;;) {
    const rows = sql(ctx.volume, LIST_GROUP_CHANGE_BY_CURSOR).all<{
      cursor: number
      fingerprint: string
    }>({ cursor: readCursor(ctx), limit: BATCH })
    const last = rows.at(-1)
    if (!last) return
    ctx.journal.write((writer) => {
      for (const fingerprint of new Set(rows.map((row) => row.fingerprint))) followGroup(ctx, writer, fingerprint)
      sql(ctx.db, INSERT_META).run({
        value: String(last.cursor),
      })
    })
    ctx.background.add(intakeWorker(ctx).call('forgetChanges', { upToCursor: last.cursor }), 'pruning the outbox')
  }
}

function readCursor(ctx: ServiceContext): number {
  return Number(sql(ctx.db, GET_VALUE_OF_META).get<{ value: string }>({})?.value ?? 0)
}

function followGroup(ctx: ServiceContext, writer: JournalWriter, fingerprint: string): void {
  const group = sql(ctx.volume, GET_FAULT_GROUP_BY_FINGERPRINT).get<GroupRow>({ fingerprint })
  if (!group) return
  const number = findOrNumber(ctx, writer, group)
  const fault = `F-${number}`
  for (const row of sql(ctx.volume, LIST_FAULT_RELEASE_BY_FINGERPRINT).all<{ release: string; environment: string; first_at_ms: number }>({
    fingerprint,
  })) {
    writer.append({
      kind: 'fault-in-release',
      actor: `service:${group.service}`,
      atMs: row.first_at_ms,
      subjects: [`fault:${fault}`, ...itemsOfFault(ctx, number).map((key) => `item:${key}`)],
      idempotencyKey: `fault-in-release/${fingerprint}/${row.release}/${row.environment}`,
      body: { fault, release: row.release, environment: row.environment },
    })
  }
  applyRules(ctx, writer, group, number)
  writer.touch(itemsOfFault(ctx, number))
}

function findOrNumber(ctx: ServiceContext, writer: JournalWriter, group: GroupRow): number {
  const known = sql(ctx.db, GET_FAULT_BY_FINGERPRINT).get<{
    number: number
    place: string | null
    type: string
  }>({ fingerprint: group.fingerprint })
  if (known) {
    noteNewReading(writer, group, known)
    return known.number
  }
  const number = (sql(ctx.db, GET_NUMBER_OF_FAULT).get<{ number: number }>({})?.number ?? 0) + 1
  const grouping = JSON.parse(group.grouping) as Grouping
  writer.append({
    kind: 'fault-found',
    actor: `service:${group.service}`,
    atMs: group.first_at_ms,
    subjects: [`fault:F-${number}`],
    idempotencyKey: `fault/${group.fingerprint}`,
    body: {
      number,
      fingerprint: group.fingerprint,
      service: group.service,
      type: grouping.type,
      message: grouping.message.slice(0, 2000),
      maskedMessage: grouping.maskedMessage,
      place: grouping.reason.frame,
      reason: grouping.reason,
      traceDigest: group.trace_digest,
    },
  })
  return number
}

/** A source map, tracked files or a setting told more of the code: the fault reads differently. */
function noteNewReading(writer: JournalWriter, group: GroupRow, known: { number: number; place: string | null; type: string }): void {
  const { type, message, maskedMessage, reason } = JSON.parse(group.grouping) as Grouping
  if (reason.frame === known.place && type === known.type) return
  writer.append({
    kind: 'fault-reread',
    actor: 'system',
    cause: 'what became known of the code',
    subjects: [`fault:F-${known.number}`],
    body: { number: known.number, type, message: message.slice(0, 2000), maskedMessage, place: reason.frame, reason },
  })
}

interface RuleRow {
  rule_id: string
  project: string
  name: string
  environment_kind: IntakeRule['environmentKind']
  severity_at_least: IntakeRule['severityAtLeast']
  count_at_least: number
  window_ms: number
}

/** Each rule fires once for a fault, however often it goes on to happen; a fault that has an item already gets no second one. */
function applyRules(ctx: ServiceContext, writer: JournalWriter, group: GroupRow, number: number): void {
  const service = sql(ctx.db, GET_SERVICE_BY_NAME).get<{ project: string; repository: string }>({
    name: group.service,
  })
  if (!service) return
  const rules = sql(ctx.db, LIST_INTAKE_RULE_BY_PROJECT).all<RuleRow>({ project: service.project })
  for (const rule of rules) {
    if (sql(ctx.db, HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER).get({ ruleId: rule.rule_id, number })) continue
    if (itemsOfFault(ctx, number).length > 0 || !fires(ctx, rule, group)) continue
    logFromFault(ctx, writer, { rule, group, number, ...service })
  }
}

function fires(ctx: ServiceContext, rule: RuleRow, group: GroupRow): boolean {
  const environments = sql(ctx.db, LIST_ENVIRONMENT).all<{ name: string; kind: string }>({})
  return environments.some((environment) =>
    ruleFires(
      {
        ruleId: rule.rule_id,
        name: rule.name,
        environmentKind: rule.environment_kind,
        severityAtLeast: rule.severity_at_least,
        countAtLeast: rule.count_at_least,
        windowMs: rule.window_ms,
      },
      {
        environmentKind: environment.kind,
        severityNumber: group.severity_number,
        recentAtMs: sql(ctx.volume, LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT)
          .all<{ at_ms: number }>({
            fingerprint: group.fingerprint,
            environment: environment.name,
            since: group.last_at_ms - rule.window_ms,
            limit: Math.max(rule.count_at_least * 4, 100),
          })
          .map((row) => row.at_ms),
      },
    ),
  )
}

function logFromFault(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: { rule: RuleRow; group: GroupRow; number: number; project: string; repository: string },
): void {
  const { rule, group, number } = input
  const grouping = JSON.parse(group.grouping) as Grouping
  const fault = `F-${number}`
  const item = nextItemKey(ctx, input.project)
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY).get<{
    name: string
  }>({ repository: input.repository })
  const place = grouping.topAppFrame?.function ?? grouping.topAppFrame?.file ?? group.service
  const actor = `rule:${rule.rule_id}`
  const release = sql(ctx.volume, GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT).get<{ release: string }>({ fingerprint: group.fingerprint })
  writer.append({
    kind: 'item-logged',
    actor,
    atMs: group.last_at_ms,
    cause: rule.name,
    source: `fault:${fault}`,
    subjects: [`item:${item.key}`, `fault:${fault}`],
    body: {
      ...item,
      project: input.project,
      type: 'defect',
      title: `${grouping.type} in ${place}`,
      description: `${grouping.message.slice(0, 2000)}\n\nLogged from fault ${fault} of ${group.service}.`,
      severity: null,
      component: component?.name ?? null,
      milestone: null,
      labels: [],
      foundIn: release ? `${group.service}@${release.release}` : null,
      cause: 'rule',
      reporterId: null,
      fault,
    },
  })
  writer.append({
    kind: 'rule-fired',
    actor,
    atMs: group.last_at_ms,
    cause: rule.name,
    subjects: [`fault:${fault}`],
    body: { ruleId: rule.rule_id, fault: number, key: item.key, count: rule.count_at_least },
  })
  assertLink(ctx.db, writer, {
    kind: 'tied',
    from: { kind: 'item', id: item.key },
    to: { kind: 'fault', id: fault },
    provenance: 'rule',
    source: `fault:${fault}`,
    statedBy: rule.name,
    actor,
    atMs: group.last_at_ms,
    cause: rule.name,
  })
  routeNewItem(ctx, writer, item.key, tailsOf(grouping.topAppFrame?.file ?? ''))
}

/** A path without its first folders, one by one: where a program was deployed says nothing of where its code belongs. */
function tailsOf(path: string): string[] {
  const parts = path.split(/[\\/]/).filter(Boolean)
  return parts.map((_, at) => parts.slice(at).join('/'))
}
