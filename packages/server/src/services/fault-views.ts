import { Problem } from '@dystracer/core/basics/problem'
import type { Fault, FaultDetail, FaultFrames, Occurrence } from '@dystracer/core/contract/evidence'
import { resolveTrackedFile } from '@dystracer/core/traces/resolve-file'
import { readTrace } from '@dystracer/core/traces/read-trace'
import type { Frame } from '@dystracer/core/traces/trace'
import { restoreException, type StoredException } from '../adapters/otlp/trace-content.js'
import { sql } from '../db/statements.js'
import { ITEM_COLUMNS, toSummary, type ItemRow } from '../queries/items.queries.js'
import { decodeCursor, pageOf } from './cursor.js'
import { mirrorDir } from './repository-sync.js'
import type { ServiceContext } from './service-context.js'

interface FaultRow {
  number: number
  fingerprint: string
  service: string
  type: string
  message: string
  masked_message: string
  place: string | null
  reason: string
  trace_digest: string
  first_seen_at_ms: number
}
interface VolumeRow {
  fingerprint: string
  first_at_ms: number
  last_at_ms: number
  count: number
}
const COLUMNS = 'number, fingerprint, service, type, message, masked_message, place, reason, trace_digest, first_seen_at_ms'
/** So many own frames of one trace are blamed; more are seldom read. */
const BLAMED_MAX = 6

/** Faults by when they were last seen, newest first. */
export function listFaults(
  ctx: ServiceContext,
  input: { q: string; limit: number; cursor?: string | undefined },
): { rows: Fault[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 2)
  const groups = sql<object, VolumeRow>(
    ctx.volume,
    `SELECT fingerprint, first_at_ms, last_at_ms, count FROM fault_group WHERE (-last_at_ms, fingerprint) > (@afterMs, @afterId) ORDER BY last_at_ms DESC, fingerprint LIMIT @limit`,
  ).all({ afterMs: after ? Number(after[0]) : -Number.MAX_SAFE_INTEGER, afterId: after ? String(after[1]) : '', limit: input.limit + 1 })
  const page = pageOf(
    groups,
    input.limit,
    (group) => group,
    (group) => [-group.last_at_ms, group.fingerprint],
  )
  const needle = input.q.trim().toLowerCase()
  const rows = page.rows.flatMap((group) => {
    const row = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE fingerprint = @fingerprint`).get({ fingerprint: group.fingerprint })
    if (!row || (needle && !`f-${row.number} ${row.type} ${row.message} ${row.place} ${row.service}`.toLowerCase().includes(needle))) return []
    return [toFault(ctx, row, group)]
  })
  return { rows, nextCursor: page.nextCursor }
}

function requireFault(ctx: ServiceContext, fault: string): { row: FaultRow; group: VolumeRow } {
  const row = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE number = @number`).get({
    number: Number(/^F-(\d{1,9})$/i.exec(fault)?.[1] ?? 0),
  })
  const group =
    row &&
    sql<object, VolumeRow>(ctx.volume, 'SELECT fingerprint, first_at_ms, last_at_ms, count FROM fault_group WHERE fingerprint = @fingerprint').get({
      fingerprint: row.fingerprint,
    })
  if (!row || !group) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  return { row, group }
}

function toFault(ctx: ServiceContext, row: FaultRow, group: VolumeRow): Fault {
  const seen = sql<object, { release: string; environment: string }>(
    ctx.volume,
    `SELECT release, environment FROM fault_release WHERE fingerprint = @fingerprint ORDER BY first_at_ms`,
  ).all({ fingerprint: row.fingerprint })
  const people =
    sql<object, { count: number }>(ctx.volume, 'SELECT count(*) AS count FROM fault_person WHERE fingerprint = @fingerprint').get({
      fingerprint: row.fingerprint,
    })?.count ?? 0
  const item = sql<object, ItemRow>(ctx.db, `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.fault = @fault ORDER BY i.created_at_ms DESC LIMIT 1`).get({
    fault: `F-${row.number}`,
  })
  return {
    fault: `F-${row.number}`,
    type: row.type,
    message: row.message,
    place: row.place,
    service: row.service,
    repository: repositoryOf(ctx, row.service),
    firstSeenAtMs: group.first_at_ms,
    lastSeenAtMs: group.last_at_ms,
    occurrences: group.count,
    peopleHit: people,
    releases: [...new Set(seen.map((entry) => entry.release).filter(Boolean))],
    environments: [...new Set(seen.map((entry) => entry.environment))],
    item: item ? toSummary(item) : null,
  }
}

function repositoryOf(ctx: ServiceContext, service: string): string | null {
  return sql<object, { repository: string }>(ctx.db, 'SELECT repository FROM service WHERE name = @service').get({ service })?.repository ?? null
}

export function readFaultSummary(ctx: ServiceContext, fault: string): Fault {
  const { row, group } = requireFault(ctx, fault)
  return toFault(ctx, row, group)
}

export function readFault(ctx: ServiceContext, fault: string): FaultDetail {
  const { row, group } = requireFault(ctx, fault)
  const sample = readSample(ctx, row.fingerprint)
  const byMinute = sql<object, { minute: number; count: number }>(
    ctx.volume,
    `SELECT minute, sum(count) AS count FROM fault_minute WHERE fingerprint = @fingerprint GROUP BY minute ORDER BY minute DESC LIMIT 2000`,
  ).all({ fingerprint: row.fingerprint })
  return {
    ...toFault(ctx, row, group),
    maskedMessage: row.masked_message,
    reason: JSON.parse(row.reason) as FaultDetail['reason'],
    stacktrace: sample.stacktrace,
    frames: sample.frames,
    byMinute: byMinute.reverse().map((minute) => ({ atMs: minute.minute * 60_000, count: minute.count })),
    byRelease: sql<object, FaultDetail['byRelease'][number]>(
      ctx.volume,
      `SELECT release, environment, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = @fingerprint ORDER BY first_at_ms`,
    ).all({ fingerprint: row.fingerprint }),
  }
}

/** The first occurrence that is kept stands for all: its trace as received, and the frames in it. */
function readSample(ctx: ServiceContext, fingerprint: string): { stacktrace: string; frames: Frame[] } {
  const stored = sql<object, StoredException>(
    ctx.volume,
    `SELECT o.message, o.attributes, t.stacktrace, t.is_head_cut FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
    WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id LIMIT 1`,
  ).get({ fingerprint })
  if (!stored) return { stacktrace: '', frames: [] }
  const { stacktrace, type, message } = restoreException(stored)
  return { stacktrace, frames: readTrace(stacktrace, { ...(type && { type }), ...(message && { message }) }).exception.frames }
}

/** The frames of a fault's trace with source and blame, at the release where it was first seen. Frames that no tracked file matches stay as they were printed. */
export async function readFaultFrames(ctx: ServiceContext, fault: string): Promise<FaultFrames> {
  const { row } = requireFault(ctx, fault)
  const { frames } = readSample(ctx, row.fingerprint)
  const release =
    sql<object, { release: string }>(
      ctx.volume,
      `SELECT release FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`,
    ).get({ fingerprint: row.fingerprint })?.release ?? null
  const repository = repositoryOf(ctx, row.service)
  const plain = (frame: Frame) => ({ ...frame, path: null, source: [], blame: null })
  const sha =
    release &&
    sql<object, { sha: string }>(ctx.db, 'SELECT sha FROM release WHERE service = @service AND name = @release').get({
      service: row.service,
      release,
    })?.sha
  if (!repository || !sha) return { release, frames: frames.map(plain) }
  const dir = mirrorDir(ctx, repository)
  const tracked = new Set(await ctx.git.call('trackedFiles', { dir, sha }))
  let blamed = 0
  return {
    release,
    frames: await Promise.all(
      frames.map(async (frame) => {
        const path = frame.isApp && frame.file ? resolveTrackedFile(frame.file, tracked) : null
        if (!path || frame.line === null || blamed++ >= BLAMED_MAX) return { ...plain(frame), path }
        const blame = await ctx.git.call('blame', { dir, sha, path, line: frame.line })
        if (!blame) return { ...plain(frame), path }
        const items = sql<object, { from_id: string }>(
          ctx.db,
          `SELECT DISTINCT from_id FROM link_assertion WHERE to_kind = 'commit' AND to_id = @id AND from_kind = 'item' AND retracted_at_ms IS NULL ORDER BY from_id`,
        ).all({ id: `${repository}/${blame.sha}` })
        return {
          ...frame,
          path,
          source: blame.source,
          blame: { sha: blame.sha, author: blame.author, atMs: blame.atMs, subject: blame.subject, items: items.map((item) => item.from_id) },
        }
      }),
    ),
  }
}

/** Occurrences with all that was received, newest first. */
export function listOccurrences(
  ctx: ServiceContext,
  fault: string,
  input: { limit: number; cursor?: string | undefined },
): { rows: Occurrence[]; nextCursor: string | null } {
  const { row } = requireFault(ctx, fault)
  const before = decodeCursor(input.cursor, 1)?.[0]
  interface Row extends StoredException {
    occurrence_id: number
    at_ms: number
    received_at_ms: number
    release: string
    environment: string
    severity_number: number
    trace_id: string | null
    resource: string
  }
  const rows = sql<object, Row>(
    ctx.volume,
    `SELECT o.occurrence_id, o.at_ms, o.received_at_ms, o.release, o.environment, o.message, o.severity_number, o.attributes, o.trace_id, r.attributes AS resource, t.stacktrace, t.is_head_cut
    FROM occurrence o JOIN resource r ON r.digest = o.resource_digest JOIN trace t ON t.digest = o.trace_digest WHERE o.fingerprint = @fingerprint AND o.occurrence_id < @before ORDER BY o.occurrence_id DESC LIMIT @limit`,
  ).all({ fingerprint: row.fingerprint, before: before === undefined ? Number.MAX_SAFE_INTEGER : Number(before), limit: input.limit + 1 })
  return pageOf(
    rows,
    input.limit,
    (entry) => {
      const { attributes, stacktrace } = restoreException(entry)
      return {
        occurrenceId: entry.occurrence_id,
        atMs: entry.at_ms,
        receivedAtMs: entry.received_at_ms,
        release: entry.release,
        environment: entry.environment,
        message: entry.message,
        severityNumber: entry.severity_number,
        resource: JSON.parse(entry.resource) as Record<string, unknown>,
        attributes,
        traceId: entry.trace_id,
        stacktrace,
      }
    },
    (entry) => [entry.occurrence_id],
  )
}
