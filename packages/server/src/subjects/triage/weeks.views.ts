import { parseNodeRef, type NodeRef } from '@dystracer/core/basics/node-ref'
import type { Who } from '@dystracer/core/people/who'
import { PUT_RIGHT, type TriageWeeks } from '@dystracer/core/triage/wire'
import { PROPOSED_FIELDS, wasTaken, type Decision, type Proposed } from '@dystracer/core/triage/decision'
import { sql } from '#platform/db/statements'
import { sourceOf } from './decisions.commands.js'
import type { ServiceContext } from '#platform/context'
import { startOfWeekMs } from '@dystracer/core/looking/calendar'
import { currentKey, getItem, maySeeEntry, projectsOfThing } from '#subjects/records/index'
import { dayOf } from '#subjects/routing/index'
import {
  LIST_ITEM_BY_FIRST_AND_PROJECT,
  LIST_JOURNAL_SUBJECT_BY_SUBJECT,
  LIST_JOURNAL_SUBJECT_BY_SUBJECT_AND_SEQ,
  LIST_PUT_RIGHT,
  LIST_ROUTING_RULE_BY_PROJECT,
  LIST_SEVERITY_SET,
  LIST_TRIAGE_DECISION_BY_PROJECT_AND_FIRST,
} from './weeks.queries.js'

const WEEK_MS = 7 * 86_400_000
/** So many of each kind are shown: enough to see why it was wrong. */
const EXAMPLES_MAX = 5
type PutRight = TriageWeeks['examples'][number]

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

/**
 * A look at the weeks of deciding, newest first: what came in and from where, how long it waited, what was rejected and why, which
 * proposals and rules were right.
 */
export function readTriageWeeks(ctx: ServiceContext, who: Who, project: string, weeks: number): TriageWeeks {
  const first = startOfWeekMs(ctx.nowMs()) - (weeks - 1) * WEEK_MS
  const putRight = readPutRight(ctx, who, project, first)
  const decisions = sql(ctx.db, LIST_TRIAGE_DECISION_BY_PROJECT_AND_FIRST).all<DecisionRow>({ project, first })
  const arrivals = sql(ctx.db, LIST_ITEM_BY_FIRST_AND_PROJECT).all<{
    created_at_ms: number
    fault: string | null
    logged_cause: string
    came_from: string | null
  }>({ project, first })
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
      putRight: countBy(putRight.filter((row) => isIn(row.atMs)).map(({ what }) => what)),
    }
  })
  const examples = PUT_RIGHT.flatMap((what) => putRight.filter((row) => row.what === what).slice(0, EXAMPLES_MAX))
  return { rows: rows.reverse(), examples, rules: readRuleFates(ctx, project) }
}

const WHAT_BY_KIND: Record<string, PutRight['what']> = {
  'fault-merged': 'faults-joined',
  'fault-unmerged': 'joining-undone',
  'fault-split': 'faults-parted',
  'item-merged': 'same-as',
  'item-split': 'item-parted',
  'item-changed': 'severity-set',
}

/** What people, not machines, put right in a project since a moment, the newest first, as far as the asker may see all that it is about. */
function readPutRight(ctx: ServiceContext, who: Who, project: string, first: number): PutRight[] {
  const rows = [LIST_PUT_RIGHT, LIST_SEVERITY_SET].flatMap((statement) =>
    sql(ctx.db, statement).all<{ kind: string; at_ms: number; actor: string; subjects: string }>({ first }),
  )
  return rows.flatMap(({ kind, at_ms: atMs, actor, subjects: text }): PutRight[] => {
    if (!actor.startsWith('person:')) return []
    const subjects = JSON.parse(text) as string[]
    const [from, to = null] = subjects.flatMap((subject) => parseNodeRef(subject) ?? [])
    const what = WHAT_BY_KIND[kind]
    if (!from || !what || !isOfProject(ctx, from, project) || !maySeeEntry(ctx.db, who, { subjects })) return []
    return [{ what, atMs, by: actor.slice('person:'.length), from, to: kind === 'item-changed' ? null : to }]
  })
}

function isOfProject(ctx: ServiceContext, ref: NodeRef, project: string): boolean {
  if (ref.kind === 'item') return getItem(ctx.db, currentKey(ctx.db, ref.id))?.project === project
  return projectsOfThing(ctx.db, ref).includes(project)
}

function countBy<Word extends string>(words: readonly Word[]): Record<Word, number> {
  // A word that never came is missing.
  const counts = {} as Record<Word, number>
  for (const word of words) counts[word] = (counts[word] ?? 0) + 1
  return counts
}

function quantile(sorted: readonly number[], share: number): number | null {
  return sorted.length === 0 ? null : (sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? null)
}

/** For each routing rule how often it set a field, and how often a person set that field otherwise afterwards. */
function readRuleFates(ctx: ServiceContext, project: string): TriageWeeks['rules'] {
  const rules = sql(ctx.db, LIST_ROUTING_RULE_BY_PROJECT).all<{
    rule_id: string
    name: string
  }>({ project })
  return rules.map(({ rule_id: ruleId, name }) => {
    const firings = sql(ctx.db, LIST_JOURNAL_SUBJECT_BY_SUBJECT).all<{ seq: number; body: string }>({ subject: `routing-rule:${ruleId}` })
    let changedSince = 0
    for (const firing of firings) {
      const { key, changes } = JSON.parse(firing.body) as { key: string; changes: Record<string, unknown> }
      const later = sql(ctx.db, LIST_JOURNAL_SUBJECT_BY_SUBJECT_AND_SEQ).all<{ body: string }>({ subject: `item:${key}`, seq: firing.seq })
      if (later.some((entry) => Object.keys((JSON.parse(entry.body) as { changes: object }).changes).some((field) => field in changes)))
        changedSince++
    }
    return { ruleId, name, set: firings.length, changedSince }
  })
}
