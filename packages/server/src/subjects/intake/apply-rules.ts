import { namesFlag } from '@dystracer/core/faults/fault-filter'
import { isSilent } from '@dystracer/core/faults/fault-state'
import { INCIDENT_SEVERITY, type ReadRule } from '@dystracer/core/faults/intake-rule'
import { type FaultHistory, type Firing, runRules } from '@dystracer/core/faults/run-rules'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { archivedProjects } from '#subjects/people/index'
import { notify } from '#subjects/inbox/index'
import { openIncidentByRule } from '#subjects/incidents/index'
import { assertLink, changesOf, nextItemKey, requireItem } from '#subjects/records/index'
import { writeRemark } from '#subjects/talk/index'
import { GET_GATHERING } from './apply-rules.queries.js'
import { type FaultRow, faultOf, hasHistory, nowOf, readHistory, standingAt } from './histories.js'
import { type GroupRow, logFromFault } from './log-from-fault.js'
import { hasFired, readBudgets, readRules } from './rules.js'
import { readStand, writeStand } from './stands.js'

export type { GroupRow } from './log-from-fault.js'

const DAY_MS = 86_400_000
/** A spike is held against so much of the past. */
const SPIKE_BACK_MS = 29 * DAY_MS
/** So many faults are listed in the text of an item that gathers them; all of them are tied to it. */
const GATHERED_SHOWN = 200

/**
 * Lets the rules of its project look at a fault that changed. What a rule does is decided once, by `runRules`
 * in core, and journalled; a fault that people silenced, or said is not theirs, is left alone.
 */
export function applyRules(ctx: ServiceContext, writer: JournalWriter, group: GroupRow, number: number): void {
  const fault = faultOf(ctx, number)
  if (!fault?.project) return
  const rules = readRules(ctx, fault.project)
  if (rules.every((rule) => rule.isDraft)) return
  const toMs = group.last_at_ms
  const windowMs = Math.max(...rules.map((rule) => rule.windowMs))
  const asksSpike = readStand(ctx, number).silence?.untilSpike === true || rules.some((rule) => namesFlag(rule.filter, 'spike'))
  const history = readHistory(ctx, fault, { fromMs: toMs - Math.max(windowMs, asksSpike ? SPIKE_BACK_MS : 0), toMs })
  if (!hasHistory(history) || isLeftAlone(ctx, fault, history, toMs)) return
  const firings = runRules(rules, [history], {
    fromMs: toMs - windowMs,
    toMs,
    hasFired: (ruleId, of) => hasFired(ctx, ruleId, of),
    budgets: readBudgets(ctx, fault.project, toMs),
    standing: standingAt(ctx, history),
  })
  // Asked last, since few faults come so far.
  if (firings.length === 0 || archivedProjects(ctx.db).includes(fault.project)) return
  for (const firing of firings) {
    const rule = rules.find((one) => one.ruleId === firing.ruleId)
    if (rule) carryOut(ctx, writer, { rule, firing, fault: { ...fault, project: fault.project }, group })
  }
}

/** Whether people silenced it, or said that it is not theirs. */
function isLeftAlone(ctx: ServiceContext, { number, fingerprint }: FaultRow, history: FaultHistory, nowMs: number): boolean {
  const { judgement, silence } = readStand(ctx, number)
  return judgement?.kind === 'not-ours' || isSilent(silence, nowOf(ctx, fingerprint, history, nowMs))
}

interface CarryOut {
  rule: ReadRule
  firing: Firing
  fault: FaultRow & { project: string }
  group: GroupRow
}

function carryOut(ctx: ServiceContext, writer: JournalWriter, input: CarryOut): void {
  const { rule, firing, fault } = input
  const key = keyOf(ctx, writer, input)
  if (key !== null)
    notify(ctx, writer, {
      key,
      by: { actor: `rule:${rule.ruleId}`, personId: null },
      personIds: rule.deed.tellIds,
      why: 'rule',
      words: `${fault.type} in ${fault.service}: ${firing.count} times, ${firing.people} people hit (rule “${rule.name}”)`,
    })
  writer.append({
    kind: 'rule-fired',
    actor: `rule:${rule.ruleId}`,
    atMs: firing.atMs,
    cause: rule.name,
    subjects: [`fault:F-${fault.number}`, ...(key === null ? [] : [`item:${key}` as const])],
    body: { ruleId: rule.ruleId, fault: fault.number, key: key ?? '', count: firing.count, people: firing.people, outcome: firing.outcome },
  })
}

/** Does what the rule says; gives the item that stands for the fault then. */
function keyOf(ctx: ServiceContext, writer: JournalWriter, input: CarryOut): string | null {
  const { rule, firing, fault } = input
  switch (firing.outcome) {
    case 'logged':
      return logByRule(ctx, writer, input)
    case 'gathered':
      return gatherInto(ctx, writer, input)
    case 'tied':
      if (firing.key !== null) tieByRule(ctx, writer, input, firing.key)
      return firing.key
    case 'raised':
      if (firing.key !== null) raise(ctx, writer, rule, firing.key, firing.atMs)
      return firing.key
    case 'reopened':
      if (firing.key !== null) reopen(writer, rule, firing)
      return firing.key
    case 'remarked':
      if (firing.key !== null)
        writeRemark(ctx, writer, firing.key, { text: rule.deed.remark, actor: `rule:${rule.ruleId}`, cause: rule.name, atMs: firing.atMs })
      return firing.key
    case 'silenced':
      writeStand(ctx, writer, fault.number, {
        act: 'silence',
        actor: `rule:${rule.ruleId}`,
        atMs: firing.atMs,
        cause: rule.name,
        silence: {
          sinceMs: firing.atMs,
          sinceCount: firing.count,
          untilMs: null,
          moreTimes: null,
          release: null,
          untilSpike: false,
          reason: `by the rule “${rule.name}”`,
        },
      })
      return firing.key
    case 'told':
      return firing.key
    case 'incident':
      openIncidentByRule(ctx, writer, {
        project: fault.project,
        by: { actor: `rule:${rule.ruleId}`, cause: rule.name, atMs: firing.atMs },
        title: `${fault.type}: ${fault.message}`.slice(0, 160),
        note: `F-${fault.number} ${fault.type}: ${fault.message}`.slice(0, 500),
        severity: rule.deed.severity ?? INCIDENT_SEVERITY,
        service: fault.service,
        environment: firing.environment,
        item: firing.key,
        idempotencyKey: `rule/${rule.ruleId}/F-${fault.number}/incident`,
      })
      return firing.key
  }
}

function logByRule(ctx: ServiceContext, writer: JournalWriter, { rule, firing, fault, group }: CarryOut): string {
  const { deed } = rule
  const actor = `rule:${rule.ruleId}` as const
  const key = logFromFault(ctx, writer, {
    by: { actor, cause: rule.name, atMs: firing.atMs },
    group,
    number: fault.number,
    project: fault.project,
    repository: fault.repository,
    type: deed.type,
    severity: deed.severity,
    component: deed.component,
    milestone: deed.milestone,
    labels: deed.labels,
    text: deed.text,
  })
  if (deed.ownerId !== null) change(ctx, writer, rule, key, { ownerId: deed.ownerId }, firing.atMs)
  if (deed.isAccepted)
    writer.append({ kind: 'item-accepted', actor, atMs: firing.atMs, subjects: [`item:${key}`], cause: rule.name, body: { key } })
  return key
}

/** Ties the fault to the item that gathers what a rule may not log any more, a new one where none of this day is open. */
function gatherInto(ctx: ServiceContext, writer: JournalWriter, input: CarryOut): string {
  const { rule, firing, fault } = input
  const known = sql(ctx.db, GET_GATHERING).get<{ key: string; description: string }>({
    ruleId: rule.ruleId,
    sinceMs: firing.atMs - DAY_MS,
  })
  const what = `${fault.type}: ${fault.message}`
  const row = `| F-${fault.number} | ${cell(fault.service)} | ${cell(what)} | ${firing.count} | ${firing.people} |`
  if (known) {
    tieByRule(ctx, writer, input, known.key)
    if (known.description.split('\n').length < GATHERED_SHOWN)
      change(ctx, writer, rule, known.key, { description: `${known.description}\n${row}` }, firing.atMs)
    return known.key
  }
  const item = nextItemKey(ctx, fault.project)
  writer.append({
    kind: 'item-logged',
    actor: `rule:${rule.ruleId}`,
    atMs: firing.atMs,
    cause: rule.name,
    subjects: [`item:${item.key}`],
    body: {
      ...item,
      project: fault.project,
      type: rule.deed.type,
      title: `More faults than the rule “${rule.name}” may log`,
      description:
        `Each is tied to this item. Look at what was deployed before them: many at once seldom have many ` +
        `causes.\n\n| fault | service | what | times | people |\n| --- | --- | --- | --- | --- |\n${row}`,
      severity: rule.deed.severity,
      component: rule.deed.component,
      milestone: rule.deed.milestone,
      labels: [...rule.deed.labels],
      foundIn: null,
      cause: 'rule',
      reporterId: null,
      fault: null,
    },
  })
  tieByRule(ctx, writer, input, item.key)
  return item.key
}

function cell(text: string): string {
  return text.replaceAll('|', '/').replaceAll(/\s+/g, ' ').slice(0, 160)
}

function tieByRule(ctx: ServiceContext, writer: JournalWriter, { rule, firing, fault }: CarryOut, key: string): void {
  assertLink(ctx.db, writer, {
    kind: 'tied',
    from: { kind: 'item', id: key },
    to: { kind: 'fault', id: `F-${fault.number}` },
    provenance: 'rule',
    source: `fault:F-${fault.number}`,
    statedBy: rule.name,
    actor: `rule:${rule.ruleId}`,
    atMs: firing.atMs,
    cause: rule.name,
  })
}

/** Opens the item again that stood for the fault last; what it was settled by stays in its history. */
function reopen(writer: JournalWriter, rule: ReadRule, { key, atMs, count }: Firing): void {
  writer.append({
    kind: 'item-reopened',
    actor: `rule:${rule.ruleId}`,
    atMs,
    subjects: [`item:${key}`],
    cause: rule.name,
    body: { key: key ?? '', why: `Its fault was seen ${count} times again (rule “${rule.name}”)` },
  })
}

/** Severity 1 is the worst: an item is only ever made worse. */
function raise(ctx: ServiceContext, writer: JournalWriter, rule: ReadRule, key: string, atMs: number): void {
  const { severity } = requireItem(ctx, key)
  const wanted = rule.deed.severity
  if (wanted !== null && (severity === null || severity > wanted)) change(ctx, writer, rule, key, { severity: wanted }, atMs)
}

function change(
  ctx: ServiceContext,
  writer: JournalWriter,
  rule: ReadRule,
  key: string,
  wanted: Parameters<typeof changesOf>[1],
  atMs: number,
): void {
  const changes = changesOf(requireItem(ctx, key), wanted)
  if (Object.keys(changes).length === 0) return
  writer.append({
    kind: 'item-changed',
    actor: `rule:${rule.ruleId}`,
    atMs,
    subjects: [`item:${key}`],
    cause: rule.name,
    body: { key, changes },
  })
}
