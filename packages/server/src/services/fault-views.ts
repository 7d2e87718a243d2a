import { gunzipSync } from 'node:zlib'
import { Problem } from '@dystracer/core/basics/problem'
import type { FAULT_SORTS, Fault, FaultDetail, FaultFrames, LikeFault, Occurrence } from '@dystracer/core/contract/evidence'
import { resolveTrackedFile } from '@dystracer/core/traces/resolve-file'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { ALIKE_FROM, stackLikeness } from '@dystracer/core/traces/alike'
import { decisiveException } from '@dystracer/core/traces/statement'
import { lineOf } from '@dystracer/core/traces/statement-sites'
import type { Frame, TraceException } from '@dystracer/core/traces/trace'
import { builtFileName, mapTrace, parseSourceMap } from '../adapters/source-maps.js'
import { restoreException, type StoredException } from '../adapters/otlp/trace-content.js'
import { sql } from '../db/statements.js'
import { ITEM_COLUMNS, toSummary, type ItemRow } from '../queries/items.queries.js'
import { decodeCursor, pageOf } from './cursor.js'
import { requireFaultNumber } from './fault-merges.service.js'
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
  left_out: number
}
const COLUMNS = 'number, fingerprint, service, type, message, masked_message, place, reason, trace_digest, first_seen_at_ms'
/** So many own frames of one trace are blamed; more are seldom read. */
const BLAMED_MAX = 6

export interface ListFaultsInput {
  q: string
  limit: number
  cursor?: string | undefined
  service?: string | undefined
  environment?: string | undefined
  release?: string | undefined
  item?: 'none' | 'some' | undefined
  sort: (typeof FAULT_SORTS)[number]
}
const SORT: Record<ListFaultsInput['sort'], string> = {
  last: '-g.last_at_ms',
  first: '-g.first_at_ms',
  times: '-g.count',
  people: '-(SELECT count(*) FROM fault_person p WHERE p.fingerprint = g.fingerprint)',
}

/** Faults in the order asked for; read along until the page is full, since what they say and which item stands for them lies in the other database. */
export function listFaults(ctx: ServiceContext, input: ListFaultsInput): { rows: Fault[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 2)
  const by = SORT[input.sort]
  const groups = sql<object, VolumeRow & { rank: number }>(
    ctx.volume,
    `SELECT g.fingerprint, g.first_at_ms, g.last_at_ms, g.count, g.left_out, ${by} AS rank FROM fault_group g
      WHERE (${by}, g.fingerprint) > (@afterRank, @afterId) AND (@service IS NULL OR g.service = @service)
        AND (@environment IS NULL OR EXISTS (SELECT 1 FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.environment = @environment))
        AND (@release IS NULL OR EXISTS (SELECT 1 FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.release = @release))
      ORDER BY ${by}, g.fingerprint`,
  ).iterate({
    afterRank: after ? Number(after[0]) : -Number.MAX_SAFE_INTEGER,
    afterId: after ? String(after[1]) : '',
    service: input.service ?? null,
    environment: input.environment ?? null,
    release: input.release ?? null,
  })
  const needles = input.q.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const found: { row: FaultRow; group: VolumeRow & { rank: number } }[] = []
  for (const group of groups) {
    const row = sql<object, FaultRow & { has_item: number }>(
      ctx.db,
      `SELECT ${COLUMNS}, EXISTS (SELECT 1 FROM item i WHERE i.fault = 'F-' || fault.number) AS has_item FROM fault WHERE fingerprint = @fingerprint`,
    ).get({ fingerprint: group.fingerprint })
    if (!row || (input.item !== undefined && (row.has_item === 1) !== (input.item === 'some'))) continue
    const text = `f-${row.number} ${row.type} ${row.message} ${row.place} ${row.service}`.toLowerCase()
    if (!needles.every((needle) => text.includes(needle))) continue
    found.push({ row, group })
    if (found.length > input.limit) break
  }
  return pageOf(
    found,
    input.limit,
    ({ row, group }) => toFault(ctx, row, group),
    ({ group }) => [group.rank, group.fingerprint],
  )
}

function requireFault(ctx: ServiceContext, fault: string): { row: FaultRow; group: VolumeRow } {
  const number = requireFaultNumber(ctx, fault)
  const row = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE number = @number`).get({ number })
  const group =
    row &&
    sql<object, VolumeRow>(
      ctx.volume,
      'SELECT fingerprint, first_at_ms, last_at_ms, count, left_out FROM fault_group WHERE fingerprint = @fingerprint',
    ).get({ fingerprint: row.fingerprint })
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
    recent: recentDays(ctx, row.fingerprint),
  }
}

const DAY_MS = 86_400_000
/** Occurrences of each of the last fourteen days, today last. */
function recentDays(ctx: ServiceContext, fingerprint: string): number[] {
  const today = Math.floor(ctx.nowMs() / DAY_MS)
  const days = sql<object, { day: number; count: number }>(
    ctx.volume,
    'SELECT day, count FROM fault_day WHERE fingerprint = @fingerprint AND day >= @from ORDER BY day',
  ).all({ fingerprint, from: today - 13 })
  return Array.from({ length: 14 }, (_, at) => days.find((row) => row.day === today - 13 + at)?.count ?? 0)
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
    reason: newestReason(ctx, row),
    stacktrace: sample.stacktrace,
    frames: sample.frames,
    causes: causesOf(sample.exception),
    sites: sql<object, { release: string; position: number }>(
      ctx.volume,
      'SELECT release, position FROM fault_site WHERE fingerprint = @fingerprint AND position > 0 ORDER BY release, position LIMIT 60',
    )
      .all({ fingerprint: row.fingerprint })
      .map((site) => ({ release: site.release, line: lineOf(site.position) })),
    mergedFaults: sql<object, { number: number }>(ctx.db, 'SELECT number FROM fault WHERE merged_into = @number ORDER BY number')
      .all({ number: row.number })
      .map((merged) => `F-${merged.number}`),
    leftOut: group.left_out,
    byMinute: byMinute.reverse().map((minute) => ({ atMs: minute.minute * 60_000, count: minute.count })),
    byRelease: sql<object, FaultDetail['byRelease'][number]>(
      ctx.volume,
      `SELECT release, environment, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = @fingerprint ORDER BY first_at_ms`,
    ).all({ fingerprint: row.fingerprint }),
  }
}

interface Sample {
  stacktrace: string
  frames: Frame[]
  exception: TraceException | null
}

/** The first occurrence that is kept stands for all: its trace as received, and the frames of the exception that decides. */
function readSample(ctx: ServiceContext, fingerprint: string): Sample {
  const stored = sql<object, StoredException & { release: string; service: string }>(
    ctx.volume,
    `SELECT o.message, o.attributes, o.release, g.service, t.stacktrace, t.is_head_cut FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
    JOIN fault_group g ON g.fingerprint = o.fingerprint WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id LIMIT 1`,
  ).get({ fingerprint })
  if (!stored) return { stacktrace: '', frames: [], exception: null }
  const { stacktrace, type, message } = restoreException(stored)
  const trace = readTrace(stacktrace, { ...(type && { type }), ...(message && { message }) })
  const { exception } = mapTrace(trace, (builtFile) => {
    const row = sql<object, { map: Buffer }>(
      ctx.volume,
      'SELECT map FROM source_map WHERE service = @service AND release = @release AND file = @file',
    ).get({ service: stored.service, release: stored.release, file: builtFileName(builtFile) })
    return row ? parseSourceMap(gunzipSync(row.map).toString('utf8')) : null
  })
  return { stacktrace, frames: decisiveException(exception).frames, exception }
}

/** The chain of causes, from what was thrown last to the deepest; the one that decides is marked. */
function causesOf(outermost: TraceException | null): FaultDetail['causes'] {
  const chain: FaultDetail['causes'] = []
  const decisive = outermost && decisiveException(outermost)
  for (let one = outermost; one && chain.length < 20; one = one.cause)
    chain.push({ type: one.type, message: one.message.slice(0, 500), frames: one.frames.length, isDecisive: one === decisive })
  return chain
}

/** Why the occurrences are one, as last worked out: a source map may have told more. */
function newestReason(ctx: ServiceContext, row: FaultRow): FaultDetail['reason'] {
  const group = sql<object, { grouping: string }>(ctx.volume, 'SELECT grouping FROM fault_group WHERE fingerprint = @fingerprint').get({
    fingerprint: row.fingerprint,
  })
  return (group ? (JSON.parse(group.grouping) as { reason: FaultDetail['reason'] }).reason : JSON.parse(row.reason)) as FaultDetail['reason']
}

/** Faults of the same service that resemble one, most alike first, each with the two stacks side by side. At most 300 are looked at. */
export function listAlikeFaults(ctx: ServiceContext, fault: string): LikeFault[] {
  const { row } = requireFault(ctx, fault)
  const own = readSample(ctx, row.fingerprint).exception
  if (!own) return []
  return sql<object, { fingerprint: string }>(
    ctx.volume,
    'SELECT fingerprint FROM fault_group WHERE service = @service AND fingerprint <> @fingerprint ORDER BY last_at_ms DESC LIMIT 300',
  )
    .all({ service: row.service, fingerprint: row.fingerprint })
    .flatMap(({ fingerprint }): LikeFault[] => {
      const other = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE fingerprint = @fingerprint`).get({ fingerprint })
      const sample = other && readSample(ctx, fingerprint).exception
      if (!other || !sample) return []
      const { score, pairs } = stackLikeness(decisiveException(own), decisiveException(sample))
      return score < ALIKE_FROM
        ? []
        : [{ fault: `F-${other.number}`, type: other.type, message: other.message, place: other.place, score01: Number(score.toFixed(3)), pairs }]
    })
    .sort((a, b) => b.score01 - a.score01)
    .slice(0, 5)
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
