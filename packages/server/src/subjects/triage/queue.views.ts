import type { TriageEntry, TriagePage } from '@dystracer/core/triage/wire'
import { TRIAGE_SOURCES, type TriageSource } from '@dystracer/core/triage/decision'
import { guessSeverityFromComponent, guessSeverityFromFault, guessSeverityFromTitle } from '@dystracer/core/triage/guess-severity'
import { rankWaiting, reasonsOf, type Waiting } from '@dystracer/core/triage/rank'
import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '#platform/db/statements'
import type { Who } from '@dystracer/core/people/who'
import { decodeCursor, encodeCursor } from '#platform/db/cursor'
import { sourceOf } from './decisions.commands.js'
import type { ServiceContext } from '#platform/context'
import { viewerOf } from '#subjects/people/index'
import { type ItemRow, toSummary, VISIBLE_ITEM } from '#subjects/records/index'
import {
  CAME_BACK,
  GET_SERVICE_OF_FAULT_BY_NUMBER,
  LIST_ENVIRONMENT,
  LIST_FAULT,
  LIST_FAULT_PERSON_BY_PRODUCTION_AND_FINGERPRINTS,
  LIST_ITEM,
  LIST_ITEM_FOR_READ_ROWS,
  LIST_ITEM_MERGE,
  LIST_RELEASE,
  LIST_WAITING,
  READ_WAITING,
  UNDECIDED,
} from './queue.queries.js'
const IS_ASKED = 'i.asked_until_ms IS NOT NULL AND i.asked_until_ms > @nowMs'

type LightRow = Pick<
  ItemRow,
  'key' | 'title' | 'severity' | 'component' | 'fault' | 'has_come_back' | 'created_at_ms' | 'found_in' | 'logged_cause' | 'came_from'
> & {
  revision: number
  answered_at_ms: number | null
}
/** A row with what follows from it alone, worked out once for each revision. */
interface KnownRow {
  row: LightRow
  source: TriageSource
  titleGuess: number | null
  service: string
  release: string
}
const COUNT_WAITING = `
  SELECT (SELECT count(*) FROM item i INDEXED BY item_undecided WHERE ${UNDECIDED} AND NOT (${IS_ASKED}) AND ${VISIBLE_ITEM})
  + (SELECT count(*) FROM item i INDEXED BY item_came_back WHERE ${CAME_BACK} AND NOT (${IS_ASKED}) AND ${VISIBLE_ITEM}) AS count`

/** Where nothing suggests a severity. */
const NO_SIGN = 3

interface Ranked extends Waiting {
  source: TriageSource
  isGuess: boolean
}

/** What a component's decided items were like; counted anew at most once a minute. */
interface Past {
  readAtMs: number
  byComponent: Map<string, number[]>
}
const pastOf = new WeakMap<ServiceContext['db'], Past>()
const PAST_FOR_MS = 60_000

export function readPast(ctx: Pick<ServiceContext, 'db' | 'nowMs'>): Past['byComponent'] {
  const known = pastOf.get(ctx.db)
  if (known && Math.abs(ctx.nowMs() - known.readAtMs) < PAST_FOR_MS) return known.byComponent
  const byComponent: Past['byComponent'] = new Map()
  for (const row of sql(ctx.db, LIST_ITEM).all<{ component: string; severity: number; count: number }>({})) {
    const counts = byComponent.get(row.component) ?? [0, 0, 0, 0, 0]
    counts[row.severity - 1] = row.count
    byComponent.set(row.component, counts)
  }
  pastOf.set(ctx.db, { readAtMs: ctx.nowMs(), byComponent })
  return byComponent
}

/** What was read of waiting items, by key: it holds while an item's revision is the same. */
const rowsOf = new WeakMap<ServiceContext['db'], Map<string, KnownRow>>()

/** The rows of waiting items: those that changed since they were read are read anew, those that wait no more are forgotten. */
function readWaiting(ctx: Pick<ServiceContext, 'db'>, waiting: readonly { key: string; revision: number }[]): KnownRow[] {
  const known = rowsOf.get(ctx.db) ?? new Map<string, KnownRow>()
  const stale = waiting.filter(({ key, revision }) => known.get(key)?.row.revision !== revision).map(({ key }) => key)
  for (const row of sql(ctx.db, READ_WAITING).all<LightRow>({ keys: JSON.stringify(stale) })) known.set(row.key, toKnown(row))
  if (known.size > waiting.length * 2 + 1000) {
    const wanted = new Set(waiting.map(({ key }) => key))
    for (const key of known.keys()) if (!wanted.has(key)) known.delete(key)
  }
  rowsOf.set(ctx.db, known)
  return waiting.flatMap(({ key }) => known.get(key) ?? [])
}

function toKnown(row: LightRow): KnownRow {
  const [service = '', release = ''] = (row.found_in ?? '').split('@', 2)
  return { row, source: sourceOf(row), titleGuess: guessSeverityFromTitle(row.title)?.severity ?? null, service, release }
}

/**
 * The whole queue in its order. Reads which items wait through two partial indices, what changed of them, counts of faults in one query,
 * and ranks in memory: O(n log n) for n waiting, measured in
 * `bench triage`.
 */
function rankQueue(ctx: ServiceContext, who: Who): { ranked: Ranked[]; asked: number } {
  const nowMs = ctx.nowMs()
  const all = sql(ctx.db, LIST_WAITING).all<{ key: string; revision: number; asked_until_ms: number | null }>(viewerOf(who))
  const waiting = all.filter((row) => row.asked_until_ms === null || row.asked_until_ms <= nowMs)
  const rows = readWaiting(ctx, waiting)
  const faults = readFaultCounts(
    ctx,
    rows.flatMap(({ row }) => (row.fault === null ? [] : [row.fault])),
  )
  const merged = new Map(
    sql(ctx.db, LIST_ITEM_MERGE)
      .all<{ into_key: string; count: number }>({})
      .map((row) => [row.into_key, row.count]),
  )
  const newest = new Map(
    sql(ctx.db, LIST_RELEASE)
      .all<{ service: string; name: string }>({})
      .map((row) => [row.service, row.name]),
  )
  const byComponent = new Map(
    [...readPast(ctx)].map(([component, counts]) => [component, guessSeverityFromComponent(component, counts)?.severity]),
  )
  const ranked = rows.map(({ row, source, titleGuess, service, release }): Ranked => {
    const fault = row.fault === null ? undefined : faults.get(row.fault)
    const again = merged.get(row.key) ?? 0
    return {
      key: row.key,
      source,
      severity:
        row.severity ??
        (fault
          ? guessSeverityFromFault(fault).severity
          : (titleGuess ?? (row.component === null ? undefined : byComponent.get(row.component)) ?? NO_SIGN)),
      isGuess: row.severity === null,
      hasComeBack: row.has_come_back === 1,
      isAnswered: row.answered_at_ms !== null,
      peopleHit: (fault?.peopleHit ?? 0) + (again > 0 ? again + 1 : 0),
      occurrences: fault?.occurrences ?? 0,
      newIn: release !== '' && newest.get(service) === release ? release : null,
      waitedMs: nowMs - row.created_at_ms,
    }
  })
  return { ranked: rankWaiting(ranked), asked: all.length - waiting.length }
}

interface FaultCounts {
  occurrences: number
  peopleHit: number
  isInProduction: boolean
}
/** Occurrences and people of many faults at once. */
export function readFaultCounts(ctx: Pick<ServiceContext, 'db' | 'volume'>, faults: readonly string[]): Map<string, FaultCounts> {
  if (faults.length === 0) return new Map()
  const rows = sql(ctx.db, LIST_FAULT).all<{
    number: number
    fingerprint: string
  }>({ numbers: JSON.stringify(faults.map((fault) => Number(fault.slice(2)))) })
  const production = sql(ctx.db, LIST_ENVIRONMENT)
    .all<{ name: string }>({})
    .map((row) => row.name)
  const counted = sql(ctx.volume, LIST_FAULT_PERSON_BY_PRODUCTION_AND_FINGERPRINTS).all<{
    fingerprint: string
    count: number
    people: number
    live: number
  }>({
    fingerprints: JSON.stringify(rows.map((row) => row.fingerprint)),
    production: JSON.stringify(production),
  })
  const byFingerprint = new Map(counted.map((row) => [row.fingerprint, row]))
  return new Map(
    rows.flatMap(({ number, fingerprint }) => {
      const row = byFingerprint.get(fingerprint)
      return row ? [[`F-${number}`, { occurrences: row.count, peopleHit: row.people, isInProduction: row.live === 1 }] as const] : []
    }),
  )
}

/**
 * One page of the queue, the most urgent first, each with why it stands there. The cursor is the last key seen, so that a decision
 * meanwhile neither repeats nor skips.
 */
export function listTriage(
  ctx: ServiceContext,
  who: Who,
  input: { limit: number; cursor?: string | undefined; source?: TriageSource | undefined },
): TriagePage {
  const { ranked, asked } = rankQueue(ctx, who)
  const bySource: Record<string, number> = Object.fromEntries(TRIAGE_SOURCES.map((source) => [source, 0]))
  for (const item of ranked) bySource[item.source] = (bySource[item.source] ?? 0) + 1
  const queue = input.source === undefined ? ranked : ranked.filter((item) => item.source === input.source)
  const from = startOf(queue, input.cursor)
  const page = queue.slice(from, from + input.limit)
  const rows = readRows(
    ctx,
    page.map((item) => item.key),
  )
  const last = page.at(-1)
  return {
    rows: page.flatMap((item) => {
      const row = rows.get(item.key)
      return row ? [toEntry(ctx, row, item)] : []
    }),
    nextCursor: last && from + input.limit < queue.length ? encodeCursor([last.key, from + page.length]) : null,
    total: queue.length,
    asked,
    bySource,
  }
}

/** Behind the last key seen; where that was decided meanwhile, at the place where it stood. */
function startOf(queue: readonly Ranked[], cursor: string | undefined): number {
  const after = decodeCursor(cursor, 2)
  if (!after) return 0
  const index = queue.findIndex((item) => item.key === after[0])
  if (index >= 0) return index + 1
  const place = Number(after[1])
  if (!Number.isInteger(place) || place < 0) throw new Problem('invalid-input', { fields: { cursor: 'Not a cursor of this list' } })
  return Math.max(0, place - 1)
}

function readRows(ctx: ServiceContext, keys: readonly string[]): Map<string, ItemRow & { reporter: string | null }> {
  return new Map(
    sql(ctx.db, LIST_ITEM_FOR_READ_ROWS)
      .all<ItemRow & { reporter: string | null }>({ keys: JSON.stringify(keys) })
      .map((row) => [row.key, row]),
  )
}

function toEntry(ctx: ServiceContext, row: ItemRow & { reporter: string | null }, item: Ranked): TriageEntry {
  const service = row.fault === null ? undefined : serviceOf(ctx, row.fault)
  return {
    item: toSummary(row),
    source: item.source,
    fault: row.fault,
    occurrences: item.occurrences,
    peopleHit: item.peopleHit,
    from: service ?? row.reporter ?? row.came_from ?? row.logged_cause,
    atMs: row.created_at_ms,
    severity: item.severity,
    isGuess: item.isGuess,
    reasons: reasonsOf(item),
  }
}

function serviceOf(ctx: ServiceContext, fault: string): string | undefined {
  return sql(ctx.db, GET_SERVICE_OF_FAULT_BY_NUMBER).get<{ service: string }>({ number: Number(fault.slice(2)) })?.service
}

/** How many decisions wait. */
export function countWaiting(ctx: ServiceContext, who: Who): number {
  return sql(ctx.db, COUNT_WAITING).get<{ count: number }>({ ...viewerOf(who), nowMs: ctx.nowMs() })?.count ?? 0
}

/** The first few of the queue, for the desk. */
export function firstWaiting(ctx: ServiceContext, who: Who, limit: number): TriageEntry[] {
  return listTriage(ctx, who, { limit }).rows
}
