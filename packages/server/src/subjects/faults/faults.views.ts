import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { FAULT_SORTS, Fault, FaultDetail, FaultFrames, LikeFault } from '@dystracer/core/faults/wire'
import type { FaultState } from '@dystracer/core/faults/fault-state'
import { ALIKE_FROM, stackLikeness } from '@dystracer/core/traces/alike'
import { decisiveException } from '@dystracer/core/traces/statement'
import { lineOf } from '@dystracer/core/traces/statement-sites'
import type { Frame, Trace, TraceException } from '@dystracer/core/traces/trace'
import { sql } from '#platform/db/statements'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { itemsOfFault, readStand } from '#subjects/intake/index'
import { readState } from './fault-state.js'
import { requireFaultNumber } from './merges.commands.js'
import type { ServiceContext } from '#platform/context'
import { blameFrames, causesOf, placeFrames, readTraces, repositoryOf } from './trace-reading.js'
import { textAt } from '#subjects/git/index'
import { restoreException, type StoredException } from '#subjects/telemetry/index'
import { hiddenServices, type ItemRow, toSummary } from '#subjects/records/index'
import {
  COUNT_FAULT_PERSON_BY_FINGERPRINT,
  GET_FAULT_BY_FINGERPRINT,
  GET_FAULT_BY_NUMBER,
  GET_FAULT_GROUP_BY_FINGERPRINT,
  GET_FIRST_RELEASE,
  GET_GROUPING_OF_FAULT_GROUP_BY_FINGERPRINT,
  GET_ITEM,
  GET_OCCURRENCE_BY_FINGERPRINT,
  LIST_FAULT_BY_NUMBER,
  LIST_FAULT_DAY_BY_FINGERPRINT_AND_FROM,
  LIST_FAULT_GROUP_BY_SERVICE_AND_FINGERPRINT,
  LIST_FAULT_MINUTE_BY_FINGERPRINT,
  LIST_FAULT_RELEASE_BY_FINGERPRINT,
  LIST_FAULT_RELEASE_FOR_READ_FAULT,
  LIST_FAULT_SITE_BY_FINGERPRINT,
  LIST_MERGED_GROUP_BY_FINGERPRINT,
} from './faults.queries.js'

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

export interface ListFaultsInput {
  q: string
  limit: number
  cursor?: string | undefined
  service?: string | undefined
  environment?: string | undefined
  release?: string | undefined
  item?: 'none' | 'some' | undefined
  state?: FaultState | 'any' | undefined
  sort: (typeof FAULT_SORTS)[number]
}
const SORT: Record<ListFaultsInput['sort'], string> = {
  last: '-g.last_at_ms',
  first: '-g.first_at_ms',
  times: '-g.count',
  people: '-(SELECT count(*) FROM fault_person p WHERE p.fingerprint = g.fingerprint)',
}

/**
 * Faults in the order asked for; read along until the page is full, since what they say and which item stands for them lies in the other
 * database.
 */
export function listFaults(ctx: ServiceContext, who: Who, input: ListFaultsInput): { rows: Fault[]; nextCursor: string | null } {
  const after = decodeCursor(input.cursor, 2)
  const by = SORT[input.sort]
  const groups = sql(
    ctx.volume,
    `SELECT g.fingerprint, g.first_at_ms, g.last_at_ms, g.count, g.left_out, ${by} AS rank FROM fault_group g
      WHERE (${by}, g.fingerprint) > (@afterRank, @afterId) AND (@service IS NULL OR g.service = @service)
        AND +g.service NOT IN (SELECT value FROM json_each(@hidden))
        AND (@environment IS NULL OR EXISTS (SELECT 1 FROM fault_release r
          WHERE r.fingerprint = g.fingerprint AND r.environment = @environment))
        AND (@release IS NULL OR EXISTS (SELECT 1 FROM fault_release r WHERE r.fingerprint = g.fingerprint AND r.release = @release))
      ORDER BY ${by}, g.fingerprint`,
  ).iterate<VolumeRow & { rank: number }>({
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
    const row = sql(ctx.db, GET_FAULT_BY_FINGERPRINT).get<FaultRow>({ fingerprint: group.fingerprint })
    if (!row || (input.item !== undefined && itemsOfFault(ctx, row.number).length > 0 !== (input.item === 'some'))) continue
    const text = `f-${row.number} ${row.type} ${row.message} ${row.place} ${row.service}`.toLowerCase()
    if (!needles.every((needle) => text.includes(needle))) continue
    if (!isAsked(ctx, row, group, input.state)) continue
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

/** A fault with what is counted of it. Throws `not-found`. */
export function requireFault(ctx: ServiceContext, fault: string): { row: FaultRow; group: VolumeRow } {
  const number = requireFaultNumber(ctx, fault)
  const row = sql(ctx.db, GET_FAULT_BY_NUMBER).get<FaultRow>({ number })
  const group =
    row &&
    sql(ctx.volume, GET_FAULT_GROUP_BY_FINGERPRINT).get<VolumeRow>({
      fingerprint: row.fingerprint,
    })
  if (!row || !group) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  return { row, group }
}

function toFault(ctx: ServiceContext, row: FaultRow, group: VolumeRow): Fault {
  const seen = sql(ctx.volume, LIST_FAULT_RELEASE_BY_FINGERPRINT).all<{
    release: string
    environment: string
  }>({ fingerprint: row.fingerprint })
  const people =
    sql(ctx.volume, COUNT_FAULT_PERSON_BY_FINGERPRINT).get<{ count: number }>({
      fingerprint: row.fingerprint,
    })?.count ?? 0
  const item = sql(ctx.db, GET_ITEM).get<ItemRow>({ number: row.number })
  const { ownerId, silence, judgement } = readStand(ctx, row.number)
  const releases = [...new Set(seen.map((entry) => entry.release).filter(Boolean))]
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
    releases,
    environments: [...new Set(seen.map((entry) => entry.environment))],
    item: item ? toSummary(item) : null,
    recent: recentDays(ctx, row.fingerprint),
    ownerId,
    silence,
    judgement,
    ...readState(ctx, seenOf(row, group, releases, item), { ownerId, silence, judgement }),
  }
}

function seenOf(row: FaultRow, group: VolumeRow, releases: readonly string[], item: ItemRow | undefined) {
  return {
    fingerprint: row.fingerprint,
    firstAtMs: group.first_at_ms,
    lastAtMs: group.last_at_ms,
    count: group.count,
    releases,
    hasComeBack: item?.has_come_back === 1,
  }
}

/** How a fault stands, where only that is asked. */
function stateOfFault(ctx: ServiceContext, row: FaultRow, group: VolumeRow): FaultState {
  const releases = sql(ctx.volume, LIST_FAULT_RELEASE_BY_FINGERPRINT)
    .all<{ release: string }>({ fingerprint: row.fingerprint })
    .map((seen) => seen.release)
  const item = sql(ctx.db, GET_ITEM).get<ItemRow>({ number: row.number })
  return readState(ctx, seenOf(row, group, releases, item), readStand(ctx, row.number)).state
}

const SET_ASIDE = new Set<FaultState>(['silenced', 'not-ours'])
/** Whether a fault stands as asked; without a question those set aside are left out. */
function isAsked(ctx: ServiceContext, row: FaultRow, group: VolumeRow, asked: ListFaultsInput['state']): boolean {
  if (asked === 'any') return true
  const stand = readStand(ctx, row.number)
  // What nobody has said anything about is never set aside: no need to look closer.
  if (asked === undefined && stand.silence === null && stand.judgement === null) return true
  const state = stateOfFault(ctx, row, group)
  return asked === undefined ? !SET_ASIDE.has(state) : state === asked
}

const DAY_MS = 86_400_000
/** Occurrences of each of the last fourteen days, today last. */
function recentDays(ctx: ServiceContext, fingerprint: string): number[] {
  const today = Math.floor(ctx.nowMs() / DAY_MS)
  const days = sql(ctx.volume, LIST_FAULT_DAY_BY_FINGERPRINT_AND_FROM).all<{
    day: number
    count: number
  }>({ fingerprint, from: today - 13 })
  return Array.from({ length: 14 }, (_, at) => days.find((row) => row.day === today - 13 + at)?.count ?? 0)
}

export function readFaultSummary(ctx: ServiceContext, fault: string): Fault {
  const { row, group } = requireFault(ctx, fault)
  return toFault(ctx, row, group)
}

export async function readFault(ctx: ServiceContext, fault: string): Promise<FaultDetail> {
  const { row, group } = requireFault(ctx, fault)
  const sample = await readSample(ctx, row.fingerprint)
  const byMinute = sql(ctx.volume, LIST_FAULT_MINUTE_BY_FINGERPRINT).all<{ minute: number; count: number }>({
    fingerprint: row.fingerprint,
  })
  return {
    ...toFault(ctx, row, group),
    maskedMessage: row.masked_message,
    reason: newestReason(ctx, row),
    stacktrace: sample.stacktrace,
    frames: sample.frames,
    causes: causesOf(sample.exception),
    sites: sql(ctx.volume, LIST_FAULT_SITE_BY_FINGERPRINT)
      .all<{ release: string; position: number }>({ fingerprint: row.fingerprint })
      .map((site) => ({ release: site.release, line: lineOf(site.position) })),
    mergedFaults: mergedFaults(ctx, row),
    leftOut: group.left_out,
    byMinute: byMinute.reverse().map((minute) => ({ atMs: minute.minute * 60_000, count: minute.count })),
    byRelease: sql(ctx.volume, LIST_FAULT_RELEASE_FOR_READ_FAULT).all<FaultDetail['byRelease'][number]>({ fingerprint: row.fingerprint }),
  }
}

/** Faults that went into one; those that a person merged with it directly can be taken back. */
function mergedFaults(ctx: ServiceContext, { number, fingerprint }: FaultRow): FaultDetail['mergedFaults'] {
  const byPeople = new Set(
    sql(ctx.volume, LIST_MERGED_GROUP_BY_FINGERPRINT)
      .all<{ fingerprint: string }>({ fingerprint })
      .map((merged) => merged.fingerprint),
  )
  return sql(ctx.db, LIST_FAULT_BY_NUMBER)
    .all<{ number: number; fingerprint: string }>({ number })
    .map((merged) => ({ fault: `F-${merged.number}`, canTakeBack: byPeople.has(merged.fingerprint) }))
}

type SampleRow = StoredException & { fingerprint: string; release: string; service: string }
interface Sample {
  stacktrace: string
  trace: Trace | null
}

/**
 * The first occurrence that is kept stands for all: its trace as received, and as it is read with what is known of its release. In the
 * order asked for; null traces where none is kept.
 */
async function readSamples(ctx: ServiceContext, fingerprints: readonly string[]): Promise<Sample[]> {
  const stored = fingerprints.map((fingerprint) => sql(ctx.volume, GET_OCCURRENCE_BY_FINGERPRINT).get<SampleRow>({ fingerprint }))
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
  const group = sql(ctx.volume, GET_GROUPING_OF_FAULT_GROUP_BY_FINGERPRINT).get<{ grouping: string }>({
    fingerprint: row.fingerprint,
  })
  return (
    group ? (JSON.parse(group.grouping) as { reason: FaultDetail['reason'] }).reason : JSON.parse(row.reason)
  ) as FaultDetail['reason']
}

/** Faults of the same service that resemble one, most alike first, each with the two stacks side by side. At most 300 are looked at. */
export async function listAlikeFaults(ctx: ServiceContext, fault: string): Promise<LikeFault[]> {
  const { row } = requireFault(ctx, fault)
  const others = sql(ctx.volume, LIST_FAULT_GROUP_BY_SERVICE_AND_FINGERPRINT)
    .all<{ fingerprint: string }>({ service: row.service, fingerprint: row.fingerprint })
    .map((group) => group.fingerprint)
  const [own, ...samples] = await readSamples(ctx, [row.fingerprint, ...others])
  const { trace } = own ?? {}
  if (!trace) return []
  return others
    .flatMap((fingerprint, at): LikeFault[] => {
      const other = sql(ctx.db, GET_FAULT_BY_FINGERPRINT).get<FaultRow>({ fingerprint })
      const sample = samples[at]?.trace
      if (!other || !sample) return []
      const { score, pairs } = stackLikeness(decisiveException(trace.exception), decisiveException(sample.exception))
      return score < ALIKE_FROM
        ? []
        : [
            {
              fault: `F-${other.number}`,
              type: other.type,
              message: other.message,
              place: other.place,
              score01: Number(score.toFixed(3)),
              pairs,
            },
          ]
    })
    .sort((a, b) => b.score01 - a.score01)
    .slice(0, 5)
}

/**
 * The frames of a fault's trace with source and blame, at the release where it was first seen. Frames that no tracked file matches stay as
 * they were printed.
 */
export async function readFaultFrames(ctx: ServiceContext, who: Who, fault: string): Promise<FaultFrames> {
  const sample = await firstSampleOf(ctx, fault)
  return { release: sample.release, frames: await blameFrames(ctx, who, sample, sample.frames) }
}

/** The innermost frame of a fault that stands in a file that is asked for, with its line as the release had it; null where none does. */
export async function readFaultPlace(
  ctx: ServiceContext,
  fault: string,
  isAsked: (path: string) => boolean,
): Promise<{ path: string; line: number; source: string } | null> {
  const sample = await firstSampleOf(ctx, fault)
  const placed = await placeFrames(ctx, sample, sample.frames)
  const at = placed?.paths.findIndex((path, index) => path !== null && isAsked(path) && sample.frames[index]?.line != null) ?? -1
  const [path, line] = [placed?.paths[at], sample.frames[at]?.line]
  if (placed === null || path == null || line == null) return null
  const source = (await textAt(ctx, placed.repository, placed.sha, path))?.split('\n')[line - 1]
  return source === undefined ? null : { path, line, source }
}

/** What a fault's trace is, at the release where it was first seen. */
async function firstSampleOf(
  ctx: ServiceContext,
  fault: string,
): Promise<{ service: string; release: string | null; language: Trace['language']; frames: readonly Frame[] }> {
  const { row } = requireFault(ctx, fault)
  const [sample] = await readSamples(ctx, [row.fingerprint])
  const release =
    sql(ctx.volume, GET_FIRST_RELEASE).get<{
      release: string
    }>({ fingerprint: row.fingerprint })?.release ?? null
  const { language, exception } = sample?.trace ?? { language: 'unknown' as const, exception: null }
  return { service: row.service, release, language, frames: exception === null ? [] : decisiveException(exception).frames }
}
