import { Problem } from '@dystracer/core/basics/problem'
import { undoChanges, type FieldChange } from '@dystracer/core/undo/undo-changes'
import type { JournalEntry, EventBodies } from '@dystracer/core/contract/events'
import type { FieldChanges, LinkBody } from '@dystracer/core/records/events'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { listEntriesOfActor, entryBySeq, listEntriesOfSubject } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import { MOVED_BELOW } from '#subjects/items/index'
import { readStand as readFaultStand, writeStand } from '#subjects/intake/index'
import { nameOfPerson, projectOf, requireRight, requireRightInOneOf } from '#subjects/people/index'
import {
  assertLink,
  canUndo,
  currentKey,
  fieldsOf,
  isUndone,
  listAssertions,
  projectsOfThing,
  requireItem,
  retractAssertion,
} from '#subjects/records/index'
import { readStand, splitWithin } from '#subjects/triage/index'
import { GET_BY_OF_TRIAGE_DECISION_BY_KEY_AND_DECISION_ID, HAS_ITEM_MERGE_BY_KEY } from './undo.queries.js'

/**
 * Takes back one's own change by a compensating event: the entry named, or one's last that can be. Throws `conflict` naming who changed the
 * same field since, `not-found` when there is nothing to undo.
 */
export function undo(ctx: ServiceContext, who: Who, seq: number | undefined): { key: string; said: string } {
  const entry = listEntriesOfActor(ctx.db, who.actor, seq ?? Number.MAX_SAFE_INTEGER, seq === undefined ? 200 : 1).find(
    (candidate) => (seq === undefined || candidate.seq === seq) && canUndo(who, candidate) && !isUndone(ctx, candidate.seq),
  )
  if (!entry) throw new Problem('not-found', { detail: 'There is nothing of yours that could be taken back.' })
  if (entry.kind === 'fault-acted') return undoFaultAct(ctx, who, entry as JournalEntry<'fault-acted'>)
  const key = currentKey(ctx.db, (entry.subjects.find((subject) => subject.startsWith('item:')) ?? 'item:').slice(5))
  requireRight(who, 'items.change', projectOf(key))
  const other = otherHalf(ctx, entry)
  ctx.journal.write((writer) => {
    takeBack(ctx, writer, who, entry, key)
    if (other && !isUndone(ctx, other.seq)) takeBack(ctx, writer, who, other, key)
  })
  return { key, said: entry.kind }
}
/** Sets a fault back to how it stood before. Throws `conflict` where somebody decided something else since. */
function undoFaultAct(ctx: ServiceContext, who: Who, { seq, kind, body }: JournalEntry<'fault-acted'>): { key: string; said: string } {
  const key = `F-${body.number}`
  requireRightInOneOf(who, 'faults.sort', projectsOfThing(ctx.db, { kind: 'fault', id: key }))
  if (JSON.stringify(readFaultStand(ctx, body.number)) !== JSON.stringify(body.after))
    throw new Problem('conflict', { detail: `Somebody decided something else about ${key} since. Nothing was taken back.` })
  ctx.journal.write((writer) => {
    writeStand(ctx, writer, body.number, { act: 'undo', actor: who.actor, cause: 'undo', ...body.before })
    writer.append({
      kind: 'change-undone',
      actor: who.actor,
      subjects: [`fault:${key}`],
      cause: `undo of ${kind}`,
      body: { seq, key, kind },
    })
  })
  return { key, said: kind }
}
/** A move below another item is two links, the one that went and the one that came. */
function otherHalf(ctx: ServiceContext, entry: JournalEntry): JournalEntry | undefined {
  if (entry.cause !== MOVED_BELOW) return undefined
  return [entry.seq - 1, entry.seq + 1]
    .map((seq) => entryBySeq(ctx.db, seq))
    .find(
      (near) =>
        near !== undefined &&
        near.cause === MOVED_BELOW &&
        near.actor === entry.actor &&
        near.kind !== entry.kind &&
        near.atMs === entry.atMs,
    )
}
/**
 * Takes an entry back by a compensating event, and notes that it is undone. Throws `conflict` before anything is appended where somebody
 * changed the same since.
 */
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
      if (sql(ctx.db, HAS_ITEM_MERGE_BY_KEY).get({ key })) {
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
      assertLink(ctx.db, writer, {
        kind,
        from,
        to,
        provenance: 'person',
        source: null,
        statedBy: who.actor,
        actor: who.actor,
        cause: 'undo',
      })
      return
    }
    default:
      throw new Problem('not-found', { detail: 'This cannot be taken back.' })
  }
}
/**
 * Takes back all that a decision consisted of, newest first, unless somebody decided again since. What people were told and wrote stays.
 */
function takeDecisionBack(ctx: ServiceContext, writer: JournalWriter, who: Who, decision: EventBodies['triage-decided']): void {
  const key = currentKey(ctx.db, decision.key)
  const later = sql(ctx.db, GET_BY_OF_TRIAGE_DECISION_BY_KEY_AND_DECISION_ID).get<{ by: string }>({ key, decisionId: decision.decisionId })
  if (later) throw decidedSince(ctx, key, later.by)
  for (const seq of [...decision.seqs].reverse()) {
    const part = entryBySeq(ctx.db, seq)
    // The split of a merge takes back its links and its disposition too; a question that was asked stays among the comments.
    if (!part || !PART_OF_DECISION.has(part.kind) || (decision.decision === 'same-as' && part.kind !== 'item-merged')) continue
    takeBack(ctx, writer, who, part, key)
  }
}
const PART_OF_DECISION = new Set<string>([
  'item-changed',
  'item-accepted',
  'item-rejected',
  'item-merged',
  'reporter-asked',
  'link-asserted',
])
function decidedSince(ctx: ServiceContext, key: string, by: string | null): Problem {
  const name = nameOfPerson(ctx.db, by ?? '') ?? 'someone'
  return new Problem('conflict', { detail: `${name} has decided on ${key} since. Nothing was taken back.`, facts: { by: name } })
}
function changedSince(ctx: ServiceContext, key: string, seq: number, field: string): Problem {
  const later = listEntriesOfSubject(ctx.db, `item:${key}`, Number.MAX_SAFE_INTEGER, 200).find(
    (entry) => entry.seq > seq && entry.kind === 'item-changed' && field in (entry.body as EventBodies['item-changed']).changes,
  )
  const by = later ? (nameOfPerson(ctx.db, later.actor) ?? later.actor) : 'someone'
  return new Problem('conflict', {
    detail: `${by} changed ${field} of ${key} since. Nothing was taken back; change it by hand if you must.`,
    facts: { field, by },
  })
}
