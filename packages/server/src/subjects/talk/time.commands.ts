import { Problem } from '@dystracer/core/basics/problem'
import type { TimeEntry, TimeSums } from '@dystracer/core/talk/wire'
import { sumTimes, type TimeBooking, type TimeGroup } from '@dystracer/core/talk/time-sums'
import { asCsv } from '#platform/csv'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { projectOf, requireRight, todayOf, viewerOf } from '#subjects/people/index'
import { VISIBLE_ITEM } from '#subjects/records/index'
import { GET_TIME_ENTRY_BY_ENTRY_ID, LIST_TIME_ENTRY_BY_KEY } from './time.queries.js'

export function addTime(ctx: ServiceContext, who: Who, key: string, input: { minutes: number; on?: string | undefined }): void {
  if (!who.personId) throw new Problem('not-allowed', { detail: 'Time belongs to a person; sign in as one.' })
  ctx.journal.write((writer) => bookTime(ctx, writer, who, key, { ...input, entryId: ctx.newId(), provenance: 'person' }))
}

export function bookTime(
  ctx: ServiceContext,
  writer: JournalWriter,
  who: Who,
  key: string,
  input: { minutes: number; on?: string | undefined; entryId: string; provenance: string },
): void {
  writer.append({
    kind: 'time-booked',
    actor: who.actor,
    subjects: [`item:${key}`],
    body: {
      entryId: input.entryId,
      key,
      personId: who.personId ?? '',
      minutes: input.minutes,
      onDay: input.on ?? todayOf(ctx, who),
      provenance: input.provenance,
    },
  })
}

/** Takes a booking back: one's own, or as a lead anybody's. It stays in the history. */
export function takeTimeBack(ctx: ServiceContext, who: Who, key: string, entryId: string): void {
  const row = sql(ctx.db, GET_TIME_ENTRY_BY_ENTRY_ID).get<{
    item_key: string
    person_id: string
    minutes: number
    taken_back_at_ms: number | null
  }>({ entryId })
  if (row?.item_key !== key || row.taken_back_at_ms !== null) throw new Problem('not-found', { detail: 'This booking is not there.' })
  if (row.person_id !== who.personId) requireRight(who, 'time.correct', projectOf(key))
  ctx.journal.write((writer) => {
    writer.append({ kind: 'time-taken-back', actor: who.actor, subjects: [`item:${key}`], body: { entryId, key, minutes: row.minutes } })
  })
}

export function listTime(ctx: Pick<ServiceContext, 'db'>, key: string): TimeEntry[] {
  return sql(ctx.db, LIST_TIME_ENTRY_BY_KEY).all<TimeEntry>({ key })
}

const BOOKINGS_MAX = 200_000

function listBookings(
  ctx: ServiceContext,
  who: Who,
  input: { from?: string | undefined; to?: string | undefined },
): (TimeBooking & { provenance: string })[] {
  return sql(
    ctx.db,
    `SELECT t.item_key AS itemKey, t.person_id AS personId, i.milestone, t.minutes, t.on_day AS "on", t.provenance
      FROM time_entry t JOIN item i ON i.key = t.item_key
    WHERE t.on_day BETWEEN @from AND @to AND t.taken_back_at_ms IS NULL AND ${VISIBLE_ITEM}
      ORDER BY t.on_day DESC, t.entry_id LIMIT ${BOOKINGS_MAX}`,
  ).all<TimeBooking & { provenance: string }>({ from: input.from ?? '0000-00-00', to: input.to ?? '9999-99-99', ...viewerOf(who) })
}

export function readTimeSums(
  ctx: ServiceContext,
  who: Who,
  input: { by: TimeGroup; from?: string | undefined; to?: string | undefined },
): TimeSums {
  const bookings = listBookings(ctx, who, input)
  return { rows: sumTimes(bookings, input.by), totalMinutes: bookings.reduce((sum, booking) => sum + booking.minutes, 0) }
}

/** Bookings as CSV (RFC 4180); cells that a spreadsheet would take for a formula are defused. */
export function timeAsCsv(ctx: ServiceContext, who: Who, input: { from?: string | undefined; to?: string | undefined }): string {
  const rows = listBookings(ctx, who, input).map((booking) => ({
    item: booking.itemKey,
    person: booking.personId,
    milestone: booking.milestone ?? '',
    on: booking.on,
    minutes: booking.minutes,
    provenance: booking.provenance,
  }))
  return asCsv(['item', 'person', 'milestone', 'on', 'minutes', 'provenance'], rows)
}
