import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { itemsOfFault } from '#subjects/intake/index'
import { followFaults } from './follow-faults.js'
import { intakeWorker } from '#subjects/occurrences/index'
import { requireRightInOneOf } from '#subjects/people/index'
import { projectsOfThing } from '#subjects/records/index'
import {
  GET_FAULT_BY_FINGERPRINT,
  GET_FAULT_BY_NUMBER,
  GET_FAULT_FOR_NOTE_MERGED_GROUPS,
  GET_FAULT_FOR_UNMERGE_FAULT,
  GET_FINGERPRINT_OF_FAULT_BY_NUMBER,
  GET_NUMBER_OF_FAULT_BY_FINGERPRINT,
  GET_SUBJECTS_OF_JOURNAL_SUBJECT_BY_SUBJECT_AND_NUMBER,
  HAS_GROUP_ALIAS_BY_FROM,
  HAS_OCCURRENCE_BY_OCCURRENCE_ID_AND_FINGERPRINT,
  LIST_FAULT,
  LIST_GONE,
  LIST_GROUP_ALIAS,
  LIST_ITEM_BY_FAULT,
} from './merges.queries.js'

/** The number of a fault, also of one that went into another: theirs. Throws `not-found`. */
export function requireFaultNumber(ctx: Pick<ServiceContext, 'db'>, fault: string): number {
  const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ number: number; merged_into: number | null }>({
    number: numberIn(fault),
  })
  if (!row) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  return row.merged_into ?? row.number
}
function numberIn(fault: string): number {
  return Number(/^F-(\d{1,9})$/i.exec(fault)?.[1] ?? 0)
}
/** The group of occurrences that a fault stands for. */
export function fingerprintOf(ctx: Pick<ServiceContext, 'db'>, number: number): string {
  return sql(ctx.db, GET_FINGERPRINT_OF_FAULT_BY_NUMBER).get<{ fingerprint: string }>({ number })?.fingerprint ?? ''
}
/** Makes one fault of two, for what is there and for all that comes: the first goes into the other, its items with it. */
export async function mergeFaults(ctx: ServiceContext, who: Who, fault: string, into: string): Promise<void> {
  const [number, target] = [requireFaultNumber(ctx, fault), requireFaultNumber(ctx, into)]
  requireRightInOneOf(who, 'faults.sort', projectsOfThing(ctx.db, { kind: 'fault', id: into }))
  if (number === target) throw new Problem('conflict', { detail: `${fault} and ${into} are one fault already.` })
  // The decision first: should the server stop in between, the start carries it out (repairMerges).
  ctx.journal.write((writer) => {
    const items = itemsOf(ctx, number)
    writer.append({
      kind: 'fault-merged',
      actor: who.actor,
      subjects: [`fault:F-${number}`, `fault:F-${target}`, ...items.map((key) => `item:${key}`)],
      body: { number, into: target },
    })
    writer.touch([...items, ...itemsOfFault(ctx, target)])
  })
  await intakeWorker(ctx).call('mergeGroups', { from: fingerprintOf(ctx, number), into: fingerprintOf(ctx, target) })
  followFaults(ctx)
}
/**
 * Takes a merge back: the fault is one of its own again, with its items. Throws `conflict` where it went into another one by itself, or
 * where that one has gone into a third since.
 */
export async function unmergeFault(ctx: ServiceContext, who: Who, fault: string): Promise<string> {
  const row = sql(ctx.db, GET_FAULT_FOR_UNMERGE_FAULT).get<{
    number: number
    fingerprint: string
    merged_via: number | null
    merged_into: number | null
  }>({ number: numberIn(fault) })
  if (!row) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  const { merged_via: from } = row
  if (from === null) throw new Problem('conflict', { detail: `${fault} stands by itself; there is nothing to take back.` })
  if (row.merged_into !== from)
    throw new Problem('conflict', {
      detail: `${fault} went into F-${from}, and that into F-${row.merged_into}. Take F-${from} back first.`,
    })
  if (!(await intakeWorker(ctx).call('unmergeGroup', { from: row.fingerprint })))
    throw new Problem('conflict', {
      detail: `${fault} and F-${from} were found to be one by their source maps or files; there is no merge of a person to take back.`,
    })
  ctx.journal.write((writer) => {
    const items = itemsBefore(ctx, row.number).filter((key) => itemsOf(ctx, from).includes(key))
    writer.append({
      kind: 'fault-unmerged',
      actor: who.actor,
      subjects: [`fault:F-${row.number}`, `fault:F-${from}`, ...items.map((key) => `item:${key}`)],
      body: { number: row.number, from, inner: innerMerges(ctx, row.number), items },
    })
    writer.touch([...itemsOfFault(ctx, row.number), ...itemsOfFault(ctx, from)])
  })
  followFaults(ctx)
  return `F-${row.number}`
}
/** Faults that went into a fault, at first or second hand. */
function innerMerges(ctx: ServiceContext, number: number): number[] {
  return sql(ctx.db, LIST_GONE)
    .all<{ number: number }>({ number })
    .map((row) => row.number)
}
/** The items that stood for a fault when it went into another. */
function itemsBefore(ctx: ServiceContext, number: number): string[] {
  const row = sql(ctx.db, GET_SUBJECTS_OF_JOURNAL_SUBJECT_BY_SUBJECT_AND_NUMBER).get<{ subjects: string }>({
    subject: `fault:F-${number}`,
    number,
  })
  return row
    ? (JSON.parse(row.subjects) as string[]).filter((subject) => subject.startsWith('item:')).map((subject) => subject.slice(5))
    : []
}
/**
 * Says of one occurrence which fault it belongs to (`to` null: one of its own): what fails at its line goes there from now on, and with
 * `includesEarlier` what is there of it already. Gives that fault. Throws
 * `conflict` where there is nothing to move or to tell apart.
 */
export async function placeOccurrence(
  ctx: ServiceContext,
  who: Who,
  { fault, occurrenceId, to, includesEarlier }: { fault: string; occurrenceId: number; to: string | null; includesEarlier: boolean },
): Promise<string> {
  const number = requireFaultNumber(ctx, fault)
  const target = to === null ? null : requireFaultNumber(ctx, to)
  if (to !== null) requireRightInOneOf(who, 'faults.sort', projectsOfThing(ctx.db, { kind: 'fault', id: to }))
  requireOccurrence(ctx, number, occurrenceId)
  if (target === number) throw new Problem('conflict', { detail: `It belongs to ${fault} already.` })
  const fingerprint = await intakeWorker(ctx).call('moveLine', {
    occurrenceId,
    to: target === null ? null : fingerprintOf(ctx, target),
    includesEarlier,
  })
  if (fingerprint === null)
    throw new Problem('conflict', {
      detail:
        `All occurrences of ${fault} that are kept fail at this very line; there is nothing to tell them apart by. ` +
        `To make it another fault's as a whole, merge it.`,
    })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'fault-split',
      actor: who.actor,
      subjects: [`fault:F-${number}`, ...(target === null ? [] : [`fault:F-${target}`])],
      body: { number, fingerprint, to: target, past: includesEarlier },
    })
  })
  noteMergedGroups(ctx)
  followFaults(ctx)
  const made = sql(ctx.db, GET_NUMBER_OF_FAULT_BY_FINGERPRINT).get<{ number: number }>({ fingerprint })
  return `F-${made?.number ?? number}`
}
/** Throws `not-found` where the fault has no such occurrence. */
export function requireOccurrence(ctx: Pick<ServiceContext, 'db' | 'volume'>, number: number, occurrenceId: number): void {
  const belongs = sql(ctx.volume, HAS_OCCURRENCE_BY_OCCURRENCE_ID_AND_FINGERPRINT).get({
    occurrenceId,
    fingerprint: fingerprintOf(ctx, number),
  })
  if (!belongs)
    throw new Problem('not-found', {
      detail: `F-${number} has no occurrence ${occurrenceId}; it may have gone to another fault, or its time is over.`,
    })
}
/** Groups that a source map showed to be one: their faults become one, too. */
export function noteMergedGroups(ctx: ServiceContext): void {
  const aliases = sql(ctx.volume, LIST_GROUP_ALIAS).all<{
    fingerprint: string
    into_fingerprint: string
  }>({})
  const pending = aliases.flatMap((alias) => {
    const row = sql(ctx.db, GET_FAULT_BY_FINGERPRINT).get<{
      number: number
      merged_into: number | null
    }>(alias)
    const into = sql(ctx.db, GET_FAULT_FOR_NOTE_MERGED_GROUPS).get<{ number: number }>({
      fingerprint: alias.into_fingerprint,
    })
    return row && into && row.merged_into === null && row.number !== into.number ? [{ number: row.number, into: into.number }] : []
  })
  if (pending.length === 0) return
  ctx.journal.write((writer) => {
    for (const body of pending) {
      const items = itemsOf(ctx, body.number)
      writer.append({
        kind: 'fault-merged',
        actor: 'system',
        cause: 'what became known of the code',
        subjects: [`fault:F-${body.number}`, `fault:F-${body.into}`, ...items.map((key) => `item:${key}`)],
        body,
      })
      writer.touch(items)
    }
  })
}
/** Carries out merges that were decided and not done when the server stopped. */
export async function repairMerges(ctx: ServiceContext): Promise<void> {
  const merges = sql(ctx.db, LIST_FAULT).all<{ from: string; into: string }>({})
  for (const merge of merges) {
    if (!sql(ctx.volume, HAS_GROUP_ALIAS_BY_FROM).get(merge)) await intakeWorker(ctx).call('mergeGroups', merge)
  }
  noteMergedGroups(ctx)
}
/** The items that were logged from a fault. */
function itemsOf(ctx: Pick<ServiceContext, 'db'>, number: number): string[] {
  return sql(ctx.db, LIST_ITEM_BY_FAULT)
    .all<{ key: string }>({ fault: `F-${number}` })
    .map((row) => row.key)
}
