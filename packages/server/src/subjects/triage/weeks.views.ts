import type { TriageWeeks } from '@dystracer/core/triage/wire'
import { PROPOSED_FIELDS, wasTaken, type Decision, type Proposed } from '@dystracer/core/triage/decision'
import { sql } from '#platform/db/statements'
import { sourceOf } from './decisions.commands.js'
import type { ServiceContext } from '#platform/context'
import { dayOf, mondayOf } from '#subjects/routing/index'

const WEEK_MS = 7 * 86_400_000

interface DecisionRow {
  decision: Decision
  disposition: string | null
  at_ms: number
  waited_ms: number
  source: string
  proposed: string
  chosen: string
  undone_at_ms: number | null
}

/** A look at the weeks of deciding, newest first: what came in and from where, how long it waited, what was rejected and why, which proposals and rules were right. */
export function readTriageWeeks(ctx: ServiceContext, project: string, weeks: number): TriageWeeks {
  const first = Date.parse(`${mondayOf(ctx.nowMs())}T00:00:00Z`) - (weeks - 1) * WEEK_MS
  const decisions = sql<object, DecisionRow>(
    ctx.db,
    `SELECT decision, disposition, at_ms, waited_ms, source, proposed, chosen, undone_at_ms FROM triage_decision
    WHERE project = @project AND at_ms >= @first ORDER BY at_ms LIMIT 100000`,
  ).all({ project, first })
  const arrivals = sql<object, { created_at_ms: number; fault: string | null; logged_cause: string; came_from: string | null }>(
    ctx.db,
    `SELECT created_at_ms, fault, logged_cause, came_from FROM item INDEXED BY item_newest WHERE created_at_ms >= @first AND project = @project ORDER BY created_at_ms DESC LIMIT 100000`,
  ).all({ project, first })
  const rows = Array.from({ length: weeks }, (_, index) => {
    const from = first + index * WEEK_MS
    const isIn = (atMs: number) => atMs >= from && atMs < from + WEEK_MS
    const here = decisions.filter((row) => isIn(row.at_ms))
    const standing = here.filter((row) => row.undone_at_ms === null)
    const waited = standing.map((row) => row.waited_ms).sort((a, b) => a - b)
    return {
      weekOn: dayOf(from),
      cameIn: countBy(arrivals.filter((row) => isIn(row.created_at_ms)).map((row) => sourceOf({ ...row, has_come_back: 0 }))),
      decided: countBy(standing.map((row) => row.decision)),
      rejected: countBy(standing.flatMap((row) => row.disposition ?? [])),
      undone: here.length - standing.length,
      waitedMedianMs: quantile(waited, 0.5),
      waitedP90Ms: quantile(waited, 0.9),
      proposals: PROPOSED_FIELDS.map((field) => {
        const fared = standing.map((row) =>
          wasTaken(field, row.decision, JSON.parse(row.proposed) as Partial<Proposed>, JSON.parse(row.chosen) as Partial<Proposed>),
        )
        return { field, taken: fared.filter((taken) => taken === true).length, changed: fared.filter((taken) => taken === false).length }
      }),
    }
  })
  return { rows: rows.reverse(), rules: readRuleFates(ctx, project) }
}

function countBy(words: readonly string[]): Record<string, number> {
  const counts: Record<string, number> = {}
  for (const word of words) counts[word] = (counts[word] ?? 0) + 1
  return counts
}

function quantile(sorted: readonly number[], share: number): number | null {
  return sorted.length === 0 ? null : (sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? null)
}

/** For each routing rule how often it set a field, and how often a person set that field otherwise afterwards. */
function readRuleFates(ctx: ServiceContext, project: string): TriageWeeks['rules'] {
  const rules = sql<object, { rule_id: string; name: string }>(
    ctx.db,
    'SELECT rule_id, name FROM routing_rule WHERE project = @project ORDER BY position, rule_id',
  ).all({ project })
  return rules.map(({ rule_id: ruleId, name }) => {
    const firings = sql<object, { seq: number; body: string }>(
      ctx.db,
      `SELECT j.seq, j.body FROM journal_subject s JOIN journal j ON j.seq = s.seq WHERE s.subject = @subject AND j.kind = 'item-changed' ORDER BY s.seq DESC LIMIT 500`,
    ).all({ subject: `routing-rule:${ruleId}` })
    let changedSince = 0
    for (const firing of firings) {
      const { key, changes } = JSON.parse(firing.body) as { key: string; changes: Record<string, unknown> }
      const later = sql<object, { body: string }>(
        ctx.db,
        `SELECT j.body FROM journal_subject s JOIN journal j ON j.seq = s.seq WHERE s.subject = @subject AND s.seq > @seq AND j.kind = 'item-changed' AND j.actor LIKE 'person:%' ORDER BY s.seq LIMIT 100`,
      ).all({ subject: `item:${key}`, seq: firing.seq })
      if (later.some((entry) => Object.keys((JSON.parse(entry.body) as { changes: object }).changes).some((field) => field in changes)))
        changedSince++
    }
    return { ruleId, name, set: firings.length, changedSince }
  })
}
