import type { Grouping } from '@dystracer/core/traces/grouping'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { applyRules, type GroupRow, itemsOfFault } from '#subjects/intake/index'
import type { ServiceContext } from '#platform/context'
import { intakeWorker } from '#subjects/occurrences/index'
import {
  GET_FAULT_BY_FINGERPRINT,
  GET_FAULT_GROUP_BY_FINGERPRINT,
  GET_NUMBER_OF_FAULT,
  GET_VALUE_OF_META,
  INSERT_META,
  LIST_FAULT_RELEASE_BY_FINGERPRINT,
  LIST_GROUP_CHANGE_BY_CURSOR,
} from './follow-faults.queries.js'

const BATCH = 500

/**
 * Follows the volume database by its outbox and turns what is new into journal events: faults found, faults seen in another release, rules
 * fired. Runs on start (for what came
 * in before a crash) and whenever the intake worker says that something changed.
 */
export function followFaults(ctx: ServiceContext): void {
  for (;;) {
    const rows = sql(ctx.volume, LIST_GROUP_CHANGE_BY_CURSOR).all<{
      cursor: number
      fingerprint: string
    }>({ cursor: readCursor(ctx), limit: BATCH })
    const last = rows.at(-1)
    if (!last) return
    ctx.journal.write((writer) => {
      for (const fingerprint of new Set(rows.map((row) => row.fingerprint))) followGroup(ctx, writer, fingerprint)
      sql(ctx.db, INSERT_META).run({
        value: String(last.cursor),
      })
    })
    ctx.background.add(intakeWorker(ctx).call('forgetChanges', { upToCursor: last.cursor }), 'pruning the outbox')
  }
}

function readCursor(ctx: ServiceContext): number {
  return Number(sql(ctx.db, GET_VALUE_OF_META).get<{ value: string }>({})?.value ?? 0)
}

function followGroup(ctx: ServiceContext, writer: JournalWriter, fingerprint: string): void {
  const group = sql(ctx.volume, GET_FAULT_GROUP_BY_FINGERPRINT).get<GroupRow>({ fingerprint })
  if (!group) return
  const number = findOrNumber(ctx, writer, group)
  const fault = `F-${number}`
  for (const row of sql(ctx.volume, LIST_FAULT_RELEASE_BY_FINGERPRINT).all<{ release: string; environment: string; first_at_ms: number }>({
    fingerprint,
  })) {
    writer.append({
      kind: 'fault-in-release',
      actor: `service:${group.service}`,
      atMs: row.first_at_ms,
      subjects: [`fault:${fault}`, ...itemsOfFault(ctx, number).map((key) => `item:${key}`)],
      idempotencyKey: `fault-in-release/${fingerprint}/${row.release}/${row.environment}`,
      body: { fault, release: row.release, environment: row.environment },
    })
  }
  applyRules(ctx, writer, group, number)
  writer.touch(itemsOfFault(ctx, number))
}

function findOrNumber(ctx: ServiceContext, writer: JournalWriter, group: GroupRow): number {
  const known = sql(ctx.db, GET_FAULT_BY_FINGERPRINT).get<{
    number: number
    place: string | null
    type: string
  }>({ fingerprint: group.fingerprint })
  if (known) {
    noteNewReading(writer, group, known)
    return known.number
  }
  const number = (sql(ctx.db, GET_NUMBER_OF_FAULT).get<{ number: number }>({})?.number ?? 0) + 1
  const grouping = JSON.parse(group.grouping) as Grouping
  writer.append({
    kind: 'fault-found',
    actor: `service:${group.service}`,
    atMs: group.first_at_ms,
    subjects: [`fault:F-${number}`],
    idempotencyKey: `fault/${group.fingerprint}`,
    body: {
      number,
      fingerprint: group.fingerprint,
      service: group.service,
      type: grouping.type,
      message: grouping.message.slice(0, 2000),
      maskedMessage: grouping.maskedMessage,
      place: grouping.reason.frame,
      reason: grouping.reason,
      traceDigest: group.trace_digest,
    },
  })
  return number
}

/** A source map, tracked files or a setting told more of the code: the fault reads differently. */
function noteNewReading(writer: JournalWriter, group: GroupRow, known: { number: number; place: string | null; type: string }): void {
  const { type, message, maskedMessage, reason } = JSON.parse(group.grouping) as Grouping
  if (reason.frame === known.place && type === known.type) return
  writer.append({
    kind: 'fault-reread',
    actor: 'system',
    cause: 'what became known of the code',
    subjects: [`fault:F-${known.number}`],
    body: { number: known.number, type, message: message.slice(0, 2000), maskedMessage, place: reason.frame, reason },
  })
}
