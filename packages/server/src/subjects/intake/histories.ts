import type { FiredRow } from '@dystracer/core/faults/intake-wire'
import type { FaultNow } from '@dystracer/core/faults/fault-stand'
import { type FaultHistory, spikeOf, type Standing } from '@dystracer/core/faults/run-rules'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import {
  GET_FAULT,
  GET_GROUP,
  GET_MINUTE_BEFORE,
  LIST_ENVIRONMENT,
  LIST_FAULT_OF_PROJECT,
  LIST_MINUTE,
  LIST_PERSON_MINUTE,
  LIST_RELEASE,
  LIST_STAND,
  LIST_STANDING_AT,
} from './histories.queries.js'

type Context = Pick<ServiceContext, 'db' | 'volume'>
const MINUTE_MS = 60_000

/** What is known of a fault besides its counters. */
export interface FaultRow {
  number: number
  fingerprint: string
  service: string
  type: string
  message: string
  place: string | null
  repository: string
}

/** Of which kind each environment is; read once for all rules and faults of a look. */
export function readEnvironments(ctx: Context): ReadonlyMap<string, string> {
  const rows = sql(ctx.db, LIST_ENVIRONMENT).all<{ name: string; kind: string }>({})
  return new Map(rows.map((row) => [row.name, row.kind]))
}

/** The faults of a project, those that went into others left out. */
export function faultsOfProject(ctx: Context, project: string): FaultRow[] {
  return sql(ctx.db, LIST_FAULT_OF_PROJECT).all<FaultRow>({ project })
}

/** One fault and the project of its service; undefined where there is none. */
export function faultOf(ctx: Context, number: number): (FaultRow & { project: string | null }) | undefined {
  return sql(ctx.db, GET_FAULT).get<FaultRow & { project: string | null }>({ number })
}

/** A firing as it is listed: the fault as short as a line, with what is said of it besides. */
export function firedRow<Rest extends object>(
  firing: Pick<FiredRow, 'outcome' | 'atMs' | 'count' | 'people'> & { number: number },
  fault: Pick<FaultRow, 'service' | 'type' | 'message'> | undefined,
  rest: Rest,
) {
  const { number, outcome, atMs, count, people } = firing
  return {
    fault: `F-${number}`,
    service: fault?.service ?? '',
    type: fault?.type ?? '',
    message: (fault?.message ?? '').slice(0, 300),
    outcome,
    atMs,
    count,
    people,
    ...rest,
  }
}

/** Whether anything of a fault was counted in a span. */
export function hasHistory(history: FaultHistory): boolean {
  return history.environments.length > 0
}

/** The minutes of a fault within a span, by environment; a place that nobody has set up is of no kind. */
export function recentMinutes(
  ctx: Context,
  fingerprint: string,
  { fromMs, toMs }: { fromMs: number; toMs: number },
  kinds: ReadonlyMap<string, string>,
): FaultHistory['environments'] {
  const byName = new Map<string, [number, number][]>()
  for (const { minute, environment, count } of sql(ctx.volume, LIST_MINUTE).iterate<{ minute: number; environment: string; count: number }>(
    {
      fingerprint,
      fromMinute: Math.floor(fromMs / MINUTE_MS),
      toMinute: Math.floor(toMs / MINUTE_MS),
    },
  )) {
    const known = byName.get(environment)
    if (known) known.push([minute, count])
    else byName.set(environment, [[minute, count]])
  }
  return [...byName].map(([name, minutes]) => ({ name, kind: kinds.get(name) ?? '', minutes }))
}

/** All that rules look at of a fault, with the minutes of a span. */
export function readHistory(
  ctx: Context,
  fault: FaultRow,
  span: { fromMs: number; toMs: number },
  kinds: ReadonlyMap<string, string> = readEnvironments(ctx),
): FaultHistory {
  const { fingerprint, number } = fault
  const group = sql(ctx.volume, GET_GROUP).get<{ first_at_ms: number; severity_number: number }>({ fingerprint })
  const fromMinute = Math.floor(span.fromMs / MINUTE_MS)
  const before = sql(ctx.volume, GET_MINUTE_BEFORE).get<{ minute: number | null }>({ fingerprint, fromMinute })?.minute ?? null
  // A place reads `function@file`; where there is no frame it is the message.
  const [fn = '', file = ''] = fault.place?.includes('@') ? fault.place.split(/@(?=[^@]*$)/) : [fault.place ?? '']
  return {
    number,
    service: fault.service,
    repository: fault.repository,
    type: fault.type,
    message: fault.message,
    path: file,
    function: fn,
    place: file ? fault.place : null,
    severityNumber: group?.severity_number ?? 0,
    firstAtMs: group?.first_at_ms ?? 0,
    lastBeforeMs: before === null ? null : before * MINUTE_MS,
    environments: recentMinutes(ctx, fingerprint, span, kinds),
    releases: sql(ctx.volume, LIST_RELEASE).all<FaultHistory['releases'][number]>({ fingerprint }),
    peopleMinutes: sql(ctx.volume, LIST_PERSON_MINUTE)
      .all<{ minute: number }>({ fingerprint })
      .map((row) => row.minute),
    stands: sql(ctx.db, LIST_STAND)
      .all<{ key: string; isOpen: number; fromMs: number; untilMs: number }>({ number })
      .map(({ key, isOpen, fromMs, untilMs }) => ({ key, fromMs, untilMs: isOpen === 1 ? null : untilMs })),
  }
}

/** Open items at the same place of the code as a fault, standing for others. */
export function standingAt(ctx: Context, { service, place, number }: Pick<FaultHistory, 'service' | 'place' | 'number'>): Standing[] {
  if (place === null) return []
  return sql(ctx.db, LIST_STANDING_AT)
    .all<{ number: number; key: string; fromMs: number }>({ service, place, number })
    .map((row) => ({ ...row, service, place, untilMs: null }))
}

/** What may end a silence or belie a judgement of a fault, at a time. */
export function nowOf(ctx: Context, fingerprint: string, history: FaultHistory, nowMs: number): FaultNow {
  return {
    nowMs,
    count: sql(ctx.volume, GET_GROUP).get<{ count: number }>({ fingerprint })?.count ?? 0,
    releases: history.releases.map((seen) => seen.release),
    isSpike: () => spikeOf(history, nowMs) !== null,
  }
}
