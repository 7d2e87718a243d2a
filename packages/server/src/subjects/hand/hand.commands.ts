import { Problem } from '@dystracer/core/basics/problem'
import type { Hand } from '@dystracer/core/hand/wire'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { projectOf, requireRight } from '#subjects/people/index'
import { listItemsByKeys, onlyVisible, requireItem } from '#subjects/records/index'
import { bookTime } from '#subjects/talk/index'
import { GET_TO_ID_OF_LINK_ASSERTION_BY_KEY, LIST_IN_HAND_BY_PERSON_ID } from './hand.queries.js'

const MINUTE_MS = 60_000

interface HandRow {
  item_key: string
  taken_at_ms: number
  parked_at_ms: number | null
  branch: string | null
  worked_ms: number
  offered_ms: number
}

function listHeld(ctx: Pick<ServiceContext, 'db'>, personId: string): HandRow[] {
  return sql(ctx.db, LIST_IN_HAND_BY_PERSON_ID).all<HandRow>({ personId })
}

/** What a person has in hand, what they parked, and the time in hand that is not booked. */
export function readHand(ctx: ServiceContext, who: Who): Hand {
  if (who.personId === null) return { current: null, parked: [] }
  const rows = listHeld(ctx, who.personId)
  const items = new Map(
    onlyVisible(
      ctx.db,
      who,
      listItemsByKeys(
        ctx.db,
        rows.map((row) => row.item_key),
      ),
    ).map((item) => [item.key, item]),
  )
  const held = rows.flatMap((row) => {
    const item = items.get(row.item_key)
    const workedMs = workedOf(row, ctx.nowMs())
    return item
      ? [
          {
            isParked: row.parked_at_ms !== null,
            held: {
              item,
              branch: row.branch,
              sinceMs: row.parked_at_ms ?? row.taken_at_ms,
              workedMs,
              offeredMinutes: Math.max(0, Math.floor((workedMs - row.offered_ms) / MINUTE_MS)),
            },
          },
        ]
      : []
  })
  return {
    current: held.find((entry) => !entry.isParked)?.held ?? null,
    parked: held.filter((entry) => entry.isParked).map((entry) => entry.held),
  }
}

function workedOf(row: HandRow, nowMs: number): number {
  return row.worked_ms + (row.parked_at_ms === null ? Math.max(0, nowMs - row.taken_at_ms) : 0)
}

/** Takes an item in hand; what was in hand before is parked, with its branch noted. */
export function takeInHand(ctx: ServiceContext, who: Who, input: { key: string; branch: string | null }): void {
  const personId = requirePerson(who)
  requireItem(ctx, input.key)
  requireRight(who, 'items.change', projectOf(input.key))
  ctx.journal.write((writer) => takeWithin(ctx, writer, who, personId, input))
}

/** The same inside a write: starting work takes in hand. */
export function takeWithin(
  ctx: Pick<ServiceContext, 'db'>,
  writer: JournalWriter,
  who: Who,
  personId: string,
  input: { key: string; branch: string | null },
): void {
  const held = listHeld(ctx, personId).find((row) => row.parked_at_ms === null)
  if (held?.item_key === input.key) return
  if (held) park(ctx, writer, who, personId, held.item_key)
  writer.append({
    kind: 'taken-in-hand',
    actor: who.actor,
    subjects: [`person:${personId}`],
    body: { personId, key: input.key, branch: input.branch ?? branchOf(ctx, input.key) },
  })
}

function park(ctx: Pick<ServiceContext, 'db'>, writer: JournalWriter, who: Who, personId: string, key: string): void {
  writer.append({ kind: 'parked', actor: who.actor, subjects: [`person:${personId}`], body: { personId, key, branch: branchOf(ctx, key) } })
}

/** The branch on which an item was worked last, as `repository/branch`. */
function branchOf(ctx: Pick<ServiceContext, 'db'>, key: string): string | null {
  return sql(ctx.db, GET_TO_ID_OF_LINK_ASSERTION_BY_KEY).get<{ to_id: string }>({ key })?.to_id ?? null
}

export function parkItem(ctx: ServiceContext, who: Who, key: string): void {
  const personId = requireHeld(ctx, who, key)
  ctx.journal.write((writer) => park(ctx, writer, who, personId, key))
}

/** Puts an item down: it is neither in hand nor parked any more. */
export function putDown(ctx: ServiceContext, who: Who, key: string): void {
  const personId = requireHeld(ctx, who, key)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'put-down', actor: who.actor, subjects: [`person:${personId}`], body: { personId, key } })
  })
}

/** Books time that was offered, as much of it as the person says; what was in hand until now is then not offered again. */
export function bookHand(ctx: ServiceContext, who: Who, key: string, minutes: number): void {
  const personId = requireHeld(ctx, who, key)
  const row = listHeld(ctx, personId).find((entry) => entry.item_key === key)
  ctx.journal.write((writer) => {
    bookTime(ctx, writer, who, key, { minutes, entryId: ctx.newId(), provenance: 'in hand' })
    writer.append({
      kind: 'hand-time-booked',
      actor: who.actor,
      subjects: [`person:${personId}`],
      body: { personId, key, coveredMs: row ? workedOf(row, ctx.nowMs()) - row.offered_ms : 0 },
    })
  })
}

function requirePerson(who: Who): string {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'Only a person has something in hand. Sign in.' })
  return who.personId
}

function requireHeld(ctx: ServiceContext, who: Who, key: string): string {
  const personId = requirePerson(who)
  if (!listHeld(ctx, personId).some((row) => row.item_key === key))
    throw new Problem('not-found', { detail: `You do not have ${key} in hand.` })
  return personId
}
