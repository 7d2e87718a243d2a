import { Problem } from '@dystracer/core/basics/problem'
import type { FaultAct, FaultActsDone, FaultItemProposal } from '@dystracer/core/faults/wire'
import type { FaultStand } from '@dystracer/core/faults/fault-stand'
import type { FaultActName } from '@dystracer/core/faults/events'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { type GroupRow, itemsOfFault, logFromFault, proposalFor, readStand, writeStand } from '#subjects/intake/index'
import { isPerson, requireRightInOneOf } from '#subjects/people/index'
import {
  assertLink,
  canUndo,
  listAssertions,
  maySee,
  orRefuse,
  projectsOfThing,
  requireItem,
  retractAssertion,
} from '#subjects/records/index'
import { GET_FAULT_BY_NUMBER, GET_GROUP, GET_SERVICE_BY_NAME } from './acts.queries.js'
import { likelyRequirement } from './causes.views.js'
import { requireFaultNumber } from './merges.commands.js'

const MINUTE_MS = 60_000

/**
 * Does one thing with several faults: each in its own right, those that cannot be are named with the reason
 * and the others are done. Gives the entries by which it can be taken back.
 */
export function actOnFaults(ctx: ServiceContext, who: Who, faults: readonly string[], act: FaultAct): FaultActsDone {
  const refused: { key: string; why: string }[] = []
  const done: string[] = []
  const seqs = ctx.journal.write((writer) => {
    const written: number[] = []
    // What can be taken back, as it is written.
    const noting: JournalWriter = {
      ...writer,
      append: (draft) => {
        const entry = writer.append(draft)
        if (entry && canUndo(who, entry)) written.push(entry.seq)
        return entry
      },
    }
    for (const fault of new Set(faults.map((one) => one.toUpperCase())))
      orRefuse(refused, fault, () => {
        const number = requireFaultNumber(ctx, fault)
        requireRightInOneOf(who, 'faults.sort', projectsOfThing(ctx.db, { kind: 'fault', id: `F-${number}` }))
        actOn(ctx, noting, who, number, act)
        writer.touch(itemsOfFault(ctx, number))
        done.push(`F-${number}`)
      })
    return written
  })
  return { done, refused: refused.map(({ key, why }) => ({ fault: key, why })), seqs }
}

function actOn(ctx: ServiceContext, writer: JournalWriter, who: Who, number: number, act: FaultAct): void {
  const stand = (name: FaultActName, to: Partial<FaultStand>) => writeStand(ctx, writer, number, { act: name, actor: who.actor, ...to })
  switch (act.act) {
    case 'assign':
      if (act.ownerId !== null && !isPerson(ctx.db, act.ownerId))
        throw new Problem('invalid-input', { fields: { ownerId: 'There is no such person' } })
      if (readStand(ctx, number).ownerId !== act.ownerId) stand('assign', { ownerId: act.ownerId })
      return
    case 'silence':
      stand('silence', { silence: silenceOf(ctx, number, act) })
      return
    case 'hear':
      if (readStand(ctx, number).silence === null) throw new Problem('conflict', { detail: 'It is not silenced.' })
      stand('hear', { silence: null })
      return
    case 'not-ours':
      stand('judge', { judgement: { kind: 'not-ours', release: null, reason: act.reason } })
      return
    case 'fixed':
      stand('judge', { judgement: { kind: 'fixed', release: act.release, reason: act.reason } })
      return
    case 'unjudge':
      if (readStand(ctx, number).judgement === null) throw new Problem('conflict', { detail: 'Nobody has said anything of it.' })
      stand('unjudge', { judgement: null })
      return
    case 'tie':
      tie(ctx, writer, who, number, act.key)
      return
    case 'untie':
      untie(ctx, writer, who, number, act.key)
  }
}

function silenceOf(ctx: ServiceContext, number: number, act: Extract<FaultAct, { act: 'silence' }>): NonNullable<FaultStand['silence']> {
  const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ fingerprint: string }>({ number })
  const sinceMs = ctx.nowMs()
  return {
    sinceMs,
    sinceCount: sql(ctx.volume, GET_GROUP).get<{ count: number }>({ fingerprint: row?.fingerprint ?? '' })?.count ?? 0,
    untilMs: act.forMinutes === null ? null : sinceMs + act.forMinutes * MINUTE_MS,
    moreTimes: act.moreTimes,
    release: act.release,
    untilSpike: act.untilSpike,
    reason: act.reason,
  }
}

function requireVisible(ctx: ServiceContext, who: Who, key: string): void {
  if (!maySee(ctx.db, who, key)) throw new Problem('not-found', { detail: `There is no item ${key}.` })
}

function tie(ctx: ServiceContext, writer: JournalWriter, who: Who, number: number, given: string): void {
  requireVisible(ctx, who, given)
  const { key } = requireItem(ctx, given)
  if (itemsOfFault(ctx, number).includes(key)) throw new Problem('conflict', { detail: `${key} stands for it already.` })
  assertLink(ctx.db, writer, {
    kind: 'tied',
    from: { kind: 'item', id: key },
    to: { kind: 'fault', id: `F-${number}` },
    provenance: 'person',
    source: null,
    statedBy: who.actor,
    actor: who.actor,
  })
}

/** A person's untie: all that says so is taken back, and the same sources say it no more (docs/rules.md#links). */
function untie(ctx: ServiceContext, writer: JournalWriter, who: Who, number: number, key: string): void {
  requireVisible(ctx, who, key)
  const standing = listAssertions(ctx.db, { kind: 'fault', id: `F-${number}` }).filter(
    (row) => row.from_kind === 'item' && row.from_id === key,
  )
  if (!itemsOfFault(ctx, number).includes(key)) throw new Problem('conflict', { detail: `${key} is not tied to it.` })
  for (const row of standing) {
    retractAssertion(writer, row, who.actor)
    if (row.source)
      writer.append({ kind: 'link-vetoed', actor: who.actor, subjects: [`item:${key}`], body: { linkId: row.link_id, source: row.source } })
  }
  writer.append({
    kind: 'fault-item-untied',
    actor: who.actor,
    subjects: [`item:${key}`, `fault:F-${number}`],
    body: { number, key },
  })
}

/** Logs an item for a fault by hand; gives its key. Throws `not-found`, and `conflict` where one stands for it already. */
export function logFault(ctx: ServiceContext, who: Who, fault: string, input: { title?: string | undefined }): string {
  const of = requireUnlogged(ctx, fault)
  return ctx.journal.write((writer) =>
    logFromFault(ctx, writer, {
      by: { actor: who.actor, cause: 'by hand', personId: who.personId, atMs: ctx.nowMs() },
      ...of,
      ...(input.title !== undefined && { title: input.title }),
    }),
  )
}

/** An item for a fault as a person would begin it, with the requirement that it probably breaks. Throws as `logFault` does. */
export async function proposeFaultItem(ctx: ServiceContext, who: Who, fault: string): Promise<FaultItemProposal> {
  const of = requireUnlogged(ctx, fault)
  const proposal = proposalFor(ctx, of)
  return { ...proposal, requirement: await likelyRequirement(ctx, who, fault, proposal) }
}

function requireUnlogged(ctx: ServiceContext, fault: string): { group: GroupRow; number: number; project: string; repository: string } {
  const number = Number(fault.slice(2))
  const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<{ fingerprint: string; service: string; merged_into: number | null }>({ number })
  const group = row && sql(ctx.volume, GET_GROUP).get<GroupRow>({ fingerprint: row.fingerprint })
  if (!row || !group) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  if (row.merged_into !== null) throw new Problem('conflict', { detail: `${fault} went into F-${row.merged_into}. Log that one.` })
  const [known] = itemsOfFault(ctx, number)
  if (known) throw new Problem('conflict', { detail: `${known} stands for ${fault} already.` })
  const service = sql(ctx.db, GET_SERVICE_BY_NAME).get<{ project: string; repository: string }>({ name: row.service })
  if (!service)
    throw new Problem('conflict', { detail: `${row.service} belongs to no project yet. Connect it under Faults, Connect; then log this.` })
  return { group, number, ...service }
}
