import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { FAULT_SORTS, Fault, FaultDetail, FaultFrames, LikeFault } from '@dystracer/core/faults/wire'
import { ALIKE_FROM, stackLikeness } from '@dystracer/core/traces/alike'
import { decisiveException } from '@dystracer/core/traces/statement'
import { lineOf } from '@dystracer/core/traces/statement-sites'
import type { Frame, Trace, TraceException } from '@dystracer/core/traces/trace'
import { sql } from '#platform/db/statements'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { itemsOfFault, STANDS_FOR_FAULT } from './fault-items.js'
import { requireFaultNumber } from './merges.commands.js'
import type { ServiceContext } from '#platform/context'
import { blameFrames, causesOf, readTraces, repositoryOf } from './trace-reading.js'
import { restoreException, type StoredException } from '#subjects/occurrences/index'
import { hiddenServices, ITEM_COLUMNS, type ItemRow, toSummary } from '#subjects/records/index'

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
export function listFaults(ctx: ServiceContext, who: Who, input: ListFaultsInput): { rows: Fault[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 2)
  const by = SORT[input.sort]
  const groups = sql<object, VolumeRow & { rank: number }>(
    ctx.volume,
    `SELECT g.fingerprint, g.first_at_ms, g.last_at_ms, g.count, g.left_out, ${by} AS rank FROM fault_group g
      WHERE (${by}, g.fingerprint) > (@afterRank, @afterId) AND (@service IS NULL OR g.service = @service) AND +g.service NOT IN (SELECT value FROM json_each(@hidden))
        AND (@environment IS NULL OR EXISTS (SELECT 1 FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.environment = @environment))
        AND (@release IS NULL OR EXISTS (SELECT 1 FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.release = @release))
      ORDER BY ${by}, g.fingerprint`,
  ).iterate({
    afterRank: after ? Number(after[0]) : -Number.MAX_SAFE_INTEGER,
    afterId: after ? String(after[1]) : '',
    service: input.service ?? null,
    hidden: hiddenServices(ctx.db, who),
    environment: input.environment ?? null,
    release: input.release ?? null,
  })
  const needles = input.q.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const found: { row: FaultRow; group: VolumeRow & { rank: number } }[] = []
  for (const group of groups) {
    const row = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE fingerprint = @fingerprint`).get({ fingerprint: group.fingerprint })
    if (!row || (input.item !== undefined && itemsOfFault(ctx, row.number).length > 0 !== (input.item === 'some'))) continue
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
  const item = sql<object, ItemRow>(
    ctx.db,
    `SELECT ${ITEM_COLUMNS} FROM item i WHERE ${STANDS_FOR_FAULT} ORDER BY i.is_open DESC, i.created_at_ms DESC LIMIT 1`,
  ).get({ number: row.number })
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

export function readFaultSummary(ctx: ServiceContext, fault: string): Fault {
  const { row, group } = requireFault(ctx, fault)
  return toFault(ctx, row, group)
}

export async function readFault(ctx: ServiceContext, fault: string): Promise<FaultDetail> {
  const { row, group } = requireFault(ctx, fault)
  const sample = await readSample(ctx, row.fingerprint)
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
    mergedFaults: mergedFaults(ctx, row),
    leftOut: group.left_out,
    byMinute: byMinute.reverse().map((minute) => ({ atMs: minute.minute * 60_000, count: minute.count })),
    byRelease: sql<object, FaultDetail['byRelease'][number]>(
      ctx.volume,
      `SELECT release, environment, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = @fingerprint ORDER BY first_at_ms`,
    ).all({ fingerprint: row.fingerprint }),
  }
}

/** Faults that went into one; those that a person merged with it directly can be taken back. */
function mergedFaults(ctx: ServiceContext, { number, fingerprint }: FaultRow): FaultDetail['mergedFaults'] {
  const byPeople = new Set(
    sql<object, { fingerprint: string }>(ctx.volume, 'SELECT fingerprint FROM merged_group WHERE into_fingerprint = @fingerprint')
      .all({ fingerprint })
      .map((merged) => merged.fingerprint),
  )
  return sql<object, { number: number; fingerprint: string }>(
    ctx.db,
    'SELECT number, fingerprint FROM fault WHERE merged_into = @number ORDER BY number LIMIT 200',
  )
    .all({ number })
    .map((merged) => ({ fault: `F-${merged.number}`, canTakeBack: byPeople.has(merged.fingerprint) }))
}

type SampleRow = StoredException & { fingerprint: string; release: string; service: string }
interface Sample {
  stacktrace: string
  trace: Trace | null
}

/** The first occurrence that is kept stands for all: its trace as received, and as it is read with what is known of its release. In the order asked for; null traces where none is kept. */
async function readSamples(ctx: ServiceContext, fingerprints: readonly string[]): Promise<Sample[]> {
  const stored = fingerprints.map((fingerprint) =>
    sql<object, SampleRow>(
      ctx.volume,
      `SELECT o.fingerprint, o.message, o.attributes, o.release, g.service, t.stacktrace, t.is_head_cut FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
      JOIN fault_group g ON g.fingerprint = o.fingerprint WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id LIMIT 1`,
    ).get({ fingerprint }),
  )
  const plain = stored.map((row) => row && { ...restoreException(row), service: row.service, release: row.release })
  const traces = await readTraces(
    ctx,
    plain.filter((one) => one !== undefined),
  )
  let at = 0
  return plain.map((one) => (one ? { stacktrace: one.stacktrace, trace: traces[at++] ?? null } : { stacktrace: '', trace: null }))
}

async function readSample(
  ctx: ServiceContext,
  fingerprint: string,
): Promise<{ stacktrace: string; frames: Frame[]; exception: TraceException | null }> {
  const [sample] = await readSamples(ctx, [fingerprint])
  const exception = sample?.trace?.exception ?? null
  return { stacktrace: sample?.stacktrace ?? '', exception, frames: exception === null ? [] : decisiveException(exception).frames }
}

/** Why the occurrences are one, as last worked out: a source map may have told more. */
function newestReason(ctx: ServiceContext, row: FaultRow): FaultDetail['reason'] {
  const group = sql<object, { grouping: string }>(ctx.volume, 'SELECT grouping FROM fault_group WHERE fingerprint = @fingerprint').get({
    fingerprint: row.fingerprint,
  })
  return (group ? (JSON.parse(group.grouping) as { reason: FaultDetail['reason'] }).reason : JSON.parse(row.reason)) as FaultDetail['reason']
}

/** Faults of the same service that resemble one, most alike first, each with the two stacks side by side. At most 300 are looked at. */
export async function listAlikeFaults(ctx: ServiceContext, fault: string): Promise<LikeFault[]> {
  const { row } = requireFault(ctx, fault)
  const others = sql<object, { fingerprint: string }>(
    ctx.volume,
    'SELECT fingerprint FROM fault_group WHERE service = @service AND fingerprint <> @fingerprint ORDER BY last_at_ms DESC LIMIT 300',
  )
    .all({ service: row.service, fingerprint: row.fingerprint })
    .map((group) => group.fingerprint)
  const [own, ...samples] = await readSamples(ctx, [row.fingerprint, ...others])
  const { trace } = own ?? {}
  if (!trace) return []
  return others
    .flatMap((fingerprint, at): LikeFault[] => {
      const other = sql<object, FaultRow>(ctx.db, `SELECT ${COLUMNS} FROM fault WHERE fingerprint = @fingerprint`).get({ fingerprint })
      const sample = samples[at]?.trace
      if (!other || !sample) return []
      const { score, pairs } = stackLikeness(decisiveException(trace.exception), decisiveException(sample.exception))
      return score < ALIKE_FROM
        ? []
        : [{ fault: `F-${other.number}`, type: other.type, message: other.message, place: other.place, score01: Number(score.toFixed(3)), pairs }]
    })
    .sort((a, b) => b.score01 - a.score01)
    .slice(0, 5)
}

/** The frames of a fault's trace with source and blame, at the release where it was first seen. Frames that no tracked file matches stay as they were printed. */
export async function readFaultFrames(ctx: ServiceContext, who: Who, fault: string): Promise<FaultFrames> {
  const { row } = requireFault(ctx, fault)
  const [sample] = await readSamples(ctx, [row.fingerprint])
  const release =
    sql<object, { release: string }>(
      ctx.volume,
      `SELECT release FROM fault_release WHERE fingerprint = @fingerprint AND release <> '' ORDER BY first_at_ms LIMIT 1`,
    ).get({ fingerprint: row.fingerprint })?.release ?? null
  if (!sample?.trace) return { release, frames: [] }
  const { language, exception } = sample.trace
  return { release, frames: await blameFrames(ctx, who, { service: row.service, release, language }, decisiveException(exception).frames) }
}
