import type { Occurrence, OccurrenceDetail, Trail } from '@dystracer/core/faults/wire'
import type { TraceException } from '@dystracer/core/traces/trace'
import { sql } from '#platform/db/statements'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { fingerprintOf, requireFaultNumber, requireOccurrence } from './merges.commands.js'
import type { ServiceContext } from '#platform/context'
import { causesOf, readTraces } from './trace-reading.js'
import { restoreException, type StoredException, trailAround } from '#subjects/telemetry/index'
import {
  COUNT_OCCURRENCE_BY_FINGERPRINT_AND_RELEASE,
  GET_ROWS_BY_OCCURRENCE_ID,
  LIST_ROWS_BY_FINGERPRINT_AND_BEFORE,
} from './occurrences.queries.js'

interface Row extends StoredException {
  occurrence_id: number
  fingerprint: string
  service: string
  at_ms: number
  received_at_ms: number
  release: string
  environment: string
  severity_number: number
  trace_id: string | null
  trace_digest: string
  resource: string
}

function toOccurrence(row: Row): Occurrence {
  const { attributes, stacktrace } = restoreException(row)
  return {
    occurrenceId: row.occurrence_id,
    atMs: row.at_ms,
    receivedAtMs: row.received_at_ms,
    release: row.release,
    environment: row.environment,
    message: row.message,
    severityNumber: row.severity_number,
    resource: JSON.parse(row.resource) as Record<string, unknown>,
    attributes,
    traceId: row.trace_id,
    stacktrace,
  }
}

/** Occurrences with all that was received, newest first. */
export function listOccurrences(
  ctx: ServiceContext,
  fault: string,
  input: { limit: number; cursor?: string | undefined },
): { rows: Occurrence[]; nextCursor: string | null } {
  const before = decodeCursor(input.cursor, 1)?.[0]
  const rows = sql(ctx.volume, LIST_ROWS_BY_FINGERPRINT_AND_BEFORE).all<Row>({
    fingerprint: fingerprintOf(ctx, requireFaultNumber(ctx, fault)),
    before: before === undefined ? Number.MAX_SAFE_INTEGER : Number(before),
    limit: input.limit + 1,
  })
  return pageOf(rows, input.limit, toOccurrence, (row) => [row.occurrence_id])
}

/** One occurrence with everything as received, its exceptions as they are read, and its neighbours. Throws `not-found`. */
export async function readOccurrence(ctx: ServiceContext, fault: string, occurrenceId: number): Promise<OccurrenceDetail> {
  const number = requireFaultNumber(ctx, fault)
  requireOccurrence(ctx, number, occurrenceId)
  const row = sql(ctx.volume, GET_ROWS_BY_OCCURRENCE_ID).get<Row>({ occurrenceId }) as Row
  const neighbour = (order: string, than: string) =>
    sql(
      ctx.volume,
      `SELECT occurrence_id AS id FROM occurrence
        WHERE fingerprint = @fingerprint AND occurrence_id ${than} CAST(@occurrenceId AS INTEGER)
        ORDER BY occurrence_id ${order} LIMIT 1`,
    ).get<{ id: number }>({ fingerprint: row.fingerprint, occurrenceId })?.id ?? null
  const [trace] = await readTraces(ctx, [{ ...restoreException(row), service: row.service, release: row.release }])
  const { count } = sql(ctx.volume, COUNT_OCCURRENCE_BY_FINGERPRINT_AND_RELEASE).get<{ count: number }>({
    fingerprint: row.fingerprint,
    release: row.release,
    digest: row.trace_digest,
  }) ?? { count: 1 }
  return {
    ...toOccurrence(row),
    fault: `F-${number}`,
    causes: causesOf(trace?.exception ?? null),
    exceptions: trace ? [...exceptionsOf(trace.exception, false)].slice(0, EXCEPTIONS_MAX) : [],
    newerId: neighbour('ASC', '>'),
    olderId: neighbour('DESC', '<'),
    alike: count,
  }
}

/** What happened around an occurrence, as far as its sender told of its trace. Throws `not-found`. */
export function readTrail(ctx: ServiceContext, fault: string, occurrenceId: number): Trail {
  const number = requireFaultNumber(ctx, fault)
  requireOccurrence(ctx, number, occurrenceId)
  const row = sql(ctx.volume, GET_ROWS_BY_OCCURRENCE_ID).get<Row>({ occurrenceId }) as Row
  return trailAround(ctx, { service: row.service, traceId: row.trace_id, atMs: row.at_ms })
}

const EXCEPTIONS_MAX = 30
const FRAMES_MAX = 400

/** An exception, its causes, members and suppressed ones, as a list: what was thrown last first. */
function* exceptionsOf(one: TraceException, isSuppressed: boolean, depth = 0): Generator<OccurrenceDetail['exceptions'][number]> {
  if (depth > EXCEPTIONS_MAX) return
  yield {
    type: one.type,
    message: one.message.slice(0, 2000),
    thread: one.thread ?? null,
    hiddenFrames: (one.hiddenFrames ?? 0) + Math.max(0, one.frames.length - FRAMES_MAX),
    isSuppressed,
    frames: one.frames
      .slice(0, FRAMES_MAX)
      .map((frame) => ({ ...frame, built: frame.built ? `${frame.built.file}:${frame.built.line}:${frame.built.column ?? ''}` : null })),
  }
  if (one.cause) yield* exceptionsOf(one.cause, isSuppressed, depth + 1)
  for (const member of one.members ?? []) yield* exceptionsOf(member, isSuppressed, depth + 1)
  for (const other of one.suppressed ?? []) yield* exceptionsOf(other, true, depth + 1)
}
