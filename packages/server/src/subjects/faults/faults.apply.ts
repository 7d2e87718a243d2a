import type { FaultsEvents } from '@dystracer/core/faults/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of faults stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const faultsAppliers: Appliers<FaultsEvents> = {
  'scrub-rule-added': (db, entry) => {
    sql(db, 'INSERT INTO scrub_rule (rule_id, kind, pattern, name) VALUES (@ruleId, @kind, @pattern, @name)').run(entry.body)
  },
  'scrub-rule-removed': (db, entry) => {
    sql(db, 'DELETE FROM scrub_rule WHERE rule_id = @ruleId').run(entry.body)
  },
  'rule-added': (db, entry) => {
    sql(db, ADD_RULE).run(bindsOf(entry.body))
  },
  'rule-changed': (db, entry) => {
    sql(db, CHANGE_RULE).run(bindsOf(entry.body))
  },
  'rules-ordered': (db, { body }) => {
    body.ruleIds.forEach((ruleId, position) => {
      sql(db, 'UPDATE intake_rule SET position = @position WHERE rule_id = @ruleId AND project = @project').run({
        ruleId,
        position,
        project: body.project,
      })
    })
  },
  'intake-budget-set': (db, { body }) => {
    sql(
      db,
      `INSERT INTO intake_budget (project, per_hour, per_day) VALUES (@project, @perHour, @perDay)
        ON CONFLICT (project) DO UPDATE SET per_hour = excluded.per_hour, per_day = excluded.per_day`,
    ).run(body)
  },
  'fault-acted': (db, { body }) => {
    sql(
      db,
      'INSERT INTO fault_stand (number, stand) VALUES (@number, @stand) ON CONFLICT (number) DO UPDATE SET stand = excluded.stand',
    ).run({
      number: body.number,
      stand: JSON.stringify(body.after),
    })
  },
  'fault-item-untied': (db, { body }) => {
    sql(db, `UPDATE item SET fault = NULL WHERE key = @key AND fault = 'F-' || @number`).run(body)
  },
  'rule-removed': (db, entry) => {
    sql(db, 'DELETE FROM intake_rule WHERE rule_id = @ruleId AND project = @project').run({
      ruleId: entry.body.ruleId,
      project: entry.body.project,
    })
  },
  'fault-merged': (db, entry) => {
    const { number, into } = entry.body
    sql(db, 'UPDATE fault SET merged_via = @into WHERE number = @number').run({ number, into })
    sql(db, 'UPDATE fault SET merged_into = @into WHERE number = @number OR merged_into = @number').run({ number, into })
    sql(db, `UPDATE item SET fault = 'F-' || @into WHERE fault = 'F-' || @number`).run({ number, into })
  },
  'fault-unmerged': (db, entry) => {
    const { number, inner, items } = entry.body
    sql(db, 'UPDATE fault SET merged_into = NULL, merged_via = NULL WHERE number = @number').run({ number })
    for (const one of inner) sql(db, 'UPDATE fault SET merged_into = @number WHERE number = @one').run({ number, one })
    for (const key of items) sql(db, `UPDATE item SET fault = 'F-' || @number WHERE key = @key`).run({ number, key })
  },
  'fault-split': () => {},
  'fault-reread': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `UPDATE fault SET type = @type, message = @message, masked_message = @maskedMessage, place = @place,
        reason = @reason WHERE number = @number`,
    ).run({ ...body, reason: JSON.stringify(body.reason) })
  },
  'fault-found': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO fault (number, fingerprint, service, type, message, masked_message, place, reason, trace_digest, first_seen_at_ms)
        VALUES (@number, @fingerprint, @service, @type, @message, @maskedMessage, @place, @reason, @traceDigest, @atMs)`,
    ).run({ ...body, reason: JSON.stringify(body.reason), atMs: entry.atMs })
  },
  // Told, not stored.
  'fault-in-release': () => {},
  'rule-fired': (db, entry) => {
    const { ruleId, fault, key, count, people = 0, outcome = 'logged' } = entry.body
    sql(
      db,
      `INSERT INTO rule_firing (rule_id, fault, item_key, at_ms, outcome, count, people)
        VALUES (@ruleId, @fault, @key, @atMs, @outcome, @count, @people)`,
    ).run({ ruleId, fault, key, count, people, outcome, atMs: entry.atMs })
  },
}

const ADD_RULE = `INSERT INTO intake_rule (rule_id, project, name, environment_kind, severity_at_least, count_at_least, window_ms,
    people_at_least, condition, deed, per_hour, per_day, goes_on, is_draft, position)
  VALUES (@ruleId, @project, @name, @environmentKind, @severityAtLeast, @countAtLeast, @windowMs,
    @peopleAtLeast, @condition, @deed, @perHour, @perDay, @goesOn, @isDraft,
    (SELECT coalesce(max(position), -1) + 1 FROM intake_rule WHERE project = @project))`
const CHANGE_RULE = `UPDATE intake_rule SET name = @name, environment_kind = @environmentKind, severity_at_least = @severityAtLeast,
    count_at_least = @countAtLeast, window_ms = @windowMs, people_at_least = @peopleAtLeast, condition = @condition, deed = @deed,
    per_hour = @perHour, per_day = @perDay, goes_on = @goesOn, is_draft = @isDraft
  WHERE rule_id = @ruleId AND project = @project`

/** A rule's columns; entries from before rules could do more say nothing of the rest. */
function bindsOf(rule: FaultsEvents['rule-added']) {
  return {
    ruleId: rule.ruleId,
    project: rule.project,
    name: rule.name,
    environmentKind: rule.environmentKind,
    severityAtLeast: rule.severityAtLeast,
    countAtLeast: rule.countAtLeast,
    windowMs: rule.windowMs,
    peopleAtLeast: rule.peopleAtLeast ?? 0,
    condition: rule.where ?? '',
    deed: JSON.stringify(rule.deed ?? {}),
    perHour: rule.perHour ?? null,
    perDay: rule.perDay ?? null,
    goesOn: Number(rule.goesOn ?? false),
    isDraft: Number(rule.isDraft ?? false),
  }
}
