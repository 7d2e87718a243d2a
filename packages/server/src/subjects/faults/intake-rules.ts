import type { Actor } from '@dystracer/core/contract/events'
import { ruleFires, type IntakeRule } from '@dystracer/core/faults/intake-rule'
import type { Grouping } from '@dystracer/core/traces/grouping'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { assertLink, nextItemKey } from '#subjects/records/index'
import { routeNewItem } from '#subjects/routing/index'
import { itemsOfFault } from './fault-items.js'
import {
  GET_NAME_OF_COMPONENT_BY_REPOSITORY,
  GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT,
  GET_SERVICE_BY_NAME,
  HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER,
  LIST_ENVIRONMENT,
  LIST_ENVIRONMENT_OF_FAULT,
  LIST_INTAKE_RULE_BY_PROJECT,
  LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT,
} from './intake-rules.queries.js'

/** A group of occurrences as the volume keeps it. */
export interface GroupRow {
  fingerprint: string
  service: string
  grouping: string
  trace_digest: string
  first_at_ms: number
  last_at_ms: number
  severity_number: number
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

/** Makes items of a fault by the rules of its project. Each rule fires once for a fault, however often it goes on to happen; a fault that has an item already gets no second one. */
export function applyRules(ctx: ServiceContext, writer: JournalWriter, group: GroupRow, number: number): void {
  const service = sql(ctx.db, GET_SERVICE_BY_NAME).get<{ project: string; repository: string }>({
    name: group.service,
  })
  if (!service) return
  const rules = sql(ctx.db, LIST_INTAKE_RULE_BY_PROJECT).all<RuleRow>({ project: service.project })
  if (rules.length === 0) return
  const kinds = environmentKinds(ctx)
  for (const rule of rules) {
    if (sql(ctx.db, HAS_RULE_FIRING_BY_RULE_ID_AND_NUMBER).get({ ruleId: rule.rule_id, number })) continue
    if (itemsOfFault(ctx, number).length > 0 || !fires(ctx, ruleOf(rule), group, kinds)) continue
    const key = logFromFault(ctx, writer, { by: { actor: `rule:${rule.rule_id}`, cause: rule.name }, group, number, ...service })
    writer.append({
      kind: 'rule-fired',
      actor: `rule:${rule.rule_id}`,
      atMs: group.last_at_ms,
      cause: rule.name,
      subjects: [`fault:F-${number}`],
      body: { ruleId: rule.rule_id, fault: number, key, count: rule.count_at_least },
    })
  }
}

function ruleOf(row: RuleRow): IntakeRule {
  return {
    ruleId: row.rule_id,
    name: row.name,
    environmentKind: row.environment_kind,
    severityAtLeast: row.severity_at_least,
    countAtLeast: row.count_at_least,
    windowMs: row.window_ms,
  }
}

/** Of which kind each environment is; read once for all rules and faults of a look. */
export function environmentKinds(ctx: ServiceContext): ReadonlyMap<string, string> {
  const rows = sql(ctx.db, LIST_ENVIRONMENT).all<{ name: string; kind: string }>({})
  return new Map(rows.map((row) => [row.name, row.kind]))
}

/** Whether a fault has happened as a rule asks, in one of the places where it was seen. A place that nobody has set up is of no kind. */
export function fires(ctx: ServiceContext, rule: IntakeRule, group: GroupRow, kinds: ReadonlyMap<string, string>): boolean {
  const places = sql(ctx.volume, LIST_ENVIRONMENT_OF_FAULT).all<{ name: string }>({ fingerprint: group.fingerprint })
  return places.some(({ name }) =>
    ruleFires(rule, {
      environmentKind: kinds.get(name) ?? '',
      severityNumber: group.severity_number,
      recentAtMs: sql(ctx.volume, LIST_OCCURRENCE_BY_FINGERPRINT_AND_ENVIRONMENT)
        .all<{ at_ms: number }>({
          fingerprint: group.fingerprint,
          environment: name,
          since: group.last_at_ms - rule.windowMs,
          limit: Math.max(rule.countAtLeast * 4, 100),
        })
        .map((row) => row.at_ms),
    }),
  )
}

/** Logs the item that stands for a fault, for whoever says so; gives its key. */
export function logFromFault(
  ctx: ServiceContext,
  writer: JournalWriter,
  input: {
    by: { actor: Actor; cause: string; personId?: string | null }
    group: GroupRow
    number: number
    project: string
    repository: string
  },
): string {
  const { by, group, number } = input
  const grouping = JSON.parse(group.grouping) as Grouping
  const fault = `F-${number}`
  const item = nextItemKey(ctx, input.project)
  const component = sql(ctx.db, GET_NAME_OF_COMPONENT_BY_REPOSITORY).get<{
    name: string
  }>({ repository: input.repository })
  const place = grouping.topAppFrame?.function ?? grouping.topAppFrame?.file ?? group.service
  const { actor, cause } = by
  const isByRule = actor.startsWith('rule:')
  const atMs = isByRule ? group.last_at_ms : ctx.nowMs()
  const release = sql(ctx.volume, GET_RELEASE_OF_FAULT_RELEASE_BY_FINGERPRINT).get<{ release: string }>({ fingerprint: group.fingerprint })
  writer.append({
    kind: 'item-logged',
    actor,
    atMs,
    cause,
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
      cause: isByRule ? 'rule' : 'person',
      reporterId: by.personId ?? null,
      fault,
    },
  })
  assertLink(ctx.db, writer, {
    kind: 'tied',
    from: { kind: 'item', id: item.key },
    to: { kind: 'fault', id: fault },
    provenance: isByRule ? 'rule' : 'person',
    source: `fault:${fault}`,
    statedBy: isByRule ? cause : actor,
    actor,
    atMs,
    cause,
  })
  routeNewItem(ctx, writer, item.key, tailsOf(grouping.topAppFrame?.file ?? ''))
  return item.key
}

/** A path without its first folders, one by one: where a program was deployed says nothing of where its code belongs. */
function tailsOf(path: string): string[] {
  const parts = path.split(/[\\/]/).filter(Boolean)
  return parts.map((_, at) => parts.slice(at).join('/'))
}
