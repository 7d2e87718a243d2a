import { Problem } from '@dystracer/core/basics/problem'
import type { OwnValue } from '@dystracer/core/items/own-field'
import { undoChanges, type FieldChange } from '@dystracer/core/items/undo'
import { sql } from '../db/statements.js'
import type { EventBodies, FieldChanges, JournalEntry, LinkBody } from '../journal/events.js'
import { entryBySeq, listEntriesOfActor, listEntriesOfSubject } from '../journal/journal.queries.js'
import type { JournalWriter } from '../journal/journal.js'
import { inProject, projectOf, requireRole, type Who } from './access.js'
import { addComment } from './comments.service.js'
import { readStand, splitWithin } from './decisions.service.js'
import { logItem, nextItemKey } from './items.service.js'
import { requireItem } from './require-item.js'
import { fieldsOf } from './item-changes.js'
import { assertLink, listAssertions, retractAssertion } from './link-assertions.js'
import { notify } from './notices.service.js'
import { checkOwnValues, checkType } from './item-rules.js'
import { MOVED_BELOW } from './parts.service.js'
import type { ServiceContext } from './service-context.js'
import { readSetup, requireProject } from './setup.service.js'
import { currentKey } from './visibility.js'

/** Moves an item to another project: it gets a number there, its old key stays an alias. Own fields that the other project lacks are dropped and named. */
export function moveItem(ctx: ServiceContext, who: Who, key: string, project: string): string {
  requireRole(who, 'member')
  const row = requireItem(ctx, key)
  requireProject(ctx.db, project)
  if (row.project === project) throw new Problem('conflict', { detail: `${key} is in ${project} already.` })
  checkType(ctx.db, project, row.type, {})
  const own = JSON.parse(row.own_values) as Record<string, OwnValue>
  const taken = new Set(readSetup(ctx.db, project).ownFields.map((field) => field.fieldId))
  const kept = Object.fromEntries(Object.entries(own).filter(([fieldId]) => taken.has(fieldId)))
  checkOwnValues(ctx.db, project, kept)
  return ctx.journal.write((writer) => {
    if (Object.keys(kept).length < Object.keys(own).length)
      writer.append({
        kind: 'item-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: `moving to ${project}, which lacks these fields`,
        body: { key, changes: { ownValues: { from: own, to: kept } } },
      })
    const { number, key: newKey } = nextItemKey(ctx, project)
    writer.append({ kind: 'item-moved', actor: who.actor, subjects: [`item:${newKey}`], cause: `was ${key}`, body: { key, newKey, project, number } })
    return newKey
  })
}

/** Logs a new item with the fields of another, and ties the two. */
export function copyItem(ctx: ServiceContext, who: Who, key: string): string {
  const row = requireItem(ctx, key)
  const copy = logItem(ctx, who, {
    title: row.title,
    type: row.type,
    project: row.project,
    description: row.description,
    severity: row.severity,
    component: row.component,
    milestone: row.milestone,
    labels: JSON.parse(row.labels) as string[],
    foundIn: row.found_in,
    priority: row.priority,
    sprint: row.sprint,
    points: row.points,
    plannedFor: row.planned_for,
    isConfidential: row.is_confidential === 1,
    ownValues: JSON.parse(row.own_values) as Record<string, string>,
  })
  ctx.journal.write((writer) => {
    assertLink(ctx.db, writer, {
      kind: 'see-also',
      from: { kind: 'item', id: copy },
      to: { kind: 'item', id: key },
      provenance: 'person',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
      cause: 'copied',
    })
  })
  return copy
}

export function follow(ctx: ServiceContext, who: Who, key: string, isOn: boolean): void {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'Sign in to follow an item.' })
  const { personId } = who
  requireItem(ctx, key)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'follower-changed', actor: who.actor, subjects: [`item:${key}`], body: { key, personId, isOn } })
  })
}

/** "It is this one": what was about to be logged joins an item as a comment, and its reporter follows it. */
export function reportAgain(ctx: ServiceContext, who: Who, key: string, report: { title: string; description: string }): void {
  const row = requireItem(ctx, key)
  addComment(ctx, who, key, { text: `**Reported again: ${report.title}**\n\n${report.description}`.trim() })
  ctx.journal.write((writer) => {
    if (who.personId !== null)
      writer.append({
        kind: 'follower-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: 'reported again',
        body: { key, personId: who.personId, isOn: true },
      })
    notify(ctx, writer, { key, by: who, personIds: [row.owner_id], why: 'reported-again', words: report.title })
  })
}

const UNDOABLE = new Set<string>(['item-changed', 'item-rejected', 'link-asserted', 'link-retracted', 'triage-decided'])

/** Whether an entry is a person's own change that `undo` can take back. */
export function canUndo(who: Who, entry: Pick<JournalEntry, 'actor' | 'kind'>): boolean {
  return who.personId !== null && entry.actor === who.actor && UNDOABLE.has(entry.kind)
}

/**
 * Takes back one's own change by a compensating event: the entry named, or one's last that can be. Throws `conflict` naming who changed the same field since, `not-found` when there is nothing to undo.
 */
export function undo(ctx: ServiceContext, who: Who, seq: number | undefined): { key: string; said: string } {
  requireRole(who, 'member')
  const entry = listEntriesOfActor(ctx.db, who.actor, seq ?? Number.MAX_SAFE_INTEGER, seq === undefined ? 200 : 1).find(
    (candidate) => (seq === undefined || candidate.seq === seq) && canUndo(who, candidate) && !isUndone(ctx, candidate.seq),
  )
  if (!entry) throw new Problem('not-found', { detail: 'There is nothing of yours that could be taken back.' })
  const key = currentKey(ctx.db, (entry.subjects.find((subject) => subject.startsWith('item:')) ?? 'item:').slice(5))
  requireRole(inProject(ctx.db, who, projectOf(key)), 'member')
  const other = otherHalf(ctx, entry)
  ctx.journal.write((writer) => {
    takeBack(ctx, writer, who, entry, key)
    if (other && !isUndone(ctx, other.seq)) takeBack(ctx, writer, who, other, key)
  })
  return { key, said: entry.kind }
}

/** A move below another item is two links, the one that went and the one that came. */
function otherHalf(ctx: ServiceContext, entry: JournalEntry): JournalEntry | undefined {
  if (entry.cause !== MOVED_BELOW) return undefined
  return [entry.seq - 1, entry.seq + 1]
    .map((seq) => entryBySeq(ctx.db, seq))
    .find(
      (near) =>
        near !== undefined && near.cause === MOVED_BELOW && near.actor === entry.actor && near.kind !== entry.kind && near.atMs === entry.atMs,
    )
}

/** Whether an entry was taken back. */
export function isUndone(ctx: ServiceContext, seq: number): boolean {
  return sql(ctx.db, `SELECT 1 FROM journal WHERE kind = 'change-undone' AND json_extract(body, '$.seq') = @seq`).get({ seq }) !== undefined
}

/** Takes an entry back by a compensating event, and notes that it is undone. Throws `conflict` before anything is appended where somebody changed the same since. */
export function takeBack(ctx: ServiceContext, writer: JournalWriter, who: Who, entry: JournalEntry, key: string): void {
  compensate(ctx, writer, who, entry, key)
  writer.append({
    kind: 'change-undone',
    actor: who.actor,
    subjects: [`item:${key}`],
    cause: `undo of ${entry.kind}`,
    body: { seq: entry.seq, key, kind: entry.kind },
  })
}

function compensate(ctx: ServiceContext, writer: JournalWriter, who: Who, entry: JournalEntry, key: string): void {
  switch (entry.kind) {
    case 'item-changed': {
      const { changes } = entry.body as EventBodies['item-changed']
      const undone = undoChanges(changes as Record<string, FieldChange>, fieldsOf(requireItem(ctx, key)))
      if ('changedSince' in undone) throw changedSince(ctx, key, entry.seq, undone.changedSince)
      writer.append({
        kind: 'item-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: 'undo',
        body: { key, changes: undone.inverse as FieldChanges },
      })
      return
    }
    case 'triage-decided':
      takeDecisionBack(ctx, writer, who, entry.body as EventBodies['triage-decided'])
      return
    case 'item-accepted': {
      const stand = readStand(ctx, key)
      if (stand.accepted_at_ms !== entry.atMs || stand.accepted_by !== who.actor) throw decidedSince(ctx, key, stand.accepted_by)
      writer.append({ kind: 'acceptance-withdrawn', actor: who.actor, subjects: [`item:${key}`], cause: 'undo', body: { key } })
      return
    }
    case 'reporter-asked':
      writer.append({ kind: 'asking-ended', actor: who.actor, subjects: [`item:${key}`], cause: 'undo', body: { key } })
      return
    case 'item-merged':
      splitWithin(ctx, writer, who, key)
      return
    case 'item-rejected':
      if (sql(ctx.db, 'SELECT 1 FROM item_merge WHERE item_key = @key').get({ key })) {
        splitWithin(ctx, writer, who, key)
        return
      }
      writer.append({ kind: 'item-reopened', actor: who.actor, subjects: [`item:${key}`], cause: 'undo', body: { key, why: 'undo' } })
      return
    case 'link-asserted': {
      const { assertionId } = entry.body as LinkBody
      const row = listAssertions(ctx.db, { kind: 'item', id: key }).find((candidate) => candidate.assertion_id === assertionId)
      if (!row) throw new Problem('conflict', { detail: 'This link is not there any more.' })
      retractAssertion(writer, row, who.actor)
      return
    }
    case 'link-retracted': {
      const { kind, from, to } = entry.body as EventBodies['link-retracted']
      assertLink(ctx.db, writer, { kind, from, to, provenance: 'person', source: null, statedBy: who.actor, actor: who.actor, cause: 'undo' })
      return
    }
    default:
      throw new Problem('not-found', { detail: 'This cannot be taken back.' })
  }
}

/** Takes back all that a decision consisted of, newest first, unless somebody decided again since. What people were told and wrote stays. */
function takeDecisionBack(ctx: ServiceContext, writer: JournalWriter, who: Who, decision: EventBodies['triage-decided']): void {
  const key = currentKey(ctx.db, decision.key)
  const later = sql<object, { by: string }>(
    ctx.db,
    `SELECT by FROM triage_decision WHERE item_key = @key AND undone_at_ms IS NULL AND decision_id <> @decisionId
    AND seq > (SELECT seq FROM triage_decision WHERE decision_id = @decisionId) ORDER BY seq DESC LIMIT 1`,
  ).get({ key, decisionId: decision.decisionId })
  if (later) throw decidedSince(ctx, key, later.by)
  for (const seq of [...decision.seqs].reverse()) {
    const part = entryBySeq(ctx.db, seq)
    // The split of a merge takes back its links and its disposition too; a question that was asked stays among the comments.
    if (!part || !PART_OF_DECISION.has(part.kind) || (decision.decision === 'same-as' && part.kind !== 'item-merged')) continue
    takeBack(ctx, writer, who, part, key)
  }
}
const PART_OF_DECISION = new Set<string>(['item-changed', 'item-accepted', 'item-rejected', 'item-merged', 'reporter-asked', 'link-asserted'])

function decidedSince(ctx: ServiceContext, key: string, by: string | null): Problem {
  const name =
    sql<object, { name: string }>(ctx.db, 'SELECT name FROM person WHERE person_id = @id').get({ id: (by ?? '').replace(/^person:/, '') })?.name ??
    'someone'
  return new Problem('conflict', { detail: `${name} has decided on ${key} since. Nothing was taken back.`, facts: { by: name } })
}

function changedSince(ctx: ServiceContext, key: string, seq: number, field: string): Problem {
  const later = listEntriesOfSubject(ctx.db, `item:${key}`, Number.MAX_SAFE_INTEGER, 200).find(
    (entry) => entry.seq > seq && entry.kind === 'item-changed' && field in (entry.body as EventBodies['item-changed']).changes,
  )
  const by = later
    ? (sql<object, { name: string }>(ctx.db, 'SELECT name FROM person WHERE person_id = @id').get({ id: later.actor.replace(/^person:/, '') })
        ?.name ?? later.actor)
    : 'someone'
  return new Problem('conflict', {
    detail: `${by} changed ${field} of ${key} since. Nothing was taken back; change it by hand if you must.`,
    facts: { field, by },
  })
}
