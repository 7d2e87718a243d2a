import { Problem } from '@dystracer/core/basics/problem'
import { releasesDuring, windowOf, type IncidentWindow } from '@dystracer/core/incidents/incident-window'
import type { Incident, IncidentDetail, IncidentEntry } from '@dystracer/core/incidents/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import { sql } from '#platform/db/statements'
import { maySee, requirementsOfItems } from '#subjects/records/index'
import {
  COUNT_BY_FAULT,
  GET_INCIDENT,
  LIST_FAULTS,
  LIST_INCIDENT_ITEMS,
  LIST_INCIDENTS,
  LIST_MERGES,
  LIST_NOTES,
  LIST_RUNS,
  LIST_SERVICES,
  type IncidentItemRow,
  type IncidentRow,
} from './incidents.queries.js'

const FAULTS_SHOWN = 8
const MINUTE_MS = 60_000

/** The row of an incident. Throws `not-found`. */
export function requireIncident(ctx: ServiceContext, project: string, number: number): IncidentRow {
  const row = sql(ctx.db, GET_INCIDENT).get<IncidentRow>({ project, number })
  if (!row) throw new Problem('not-found', { detail: `${project} has no incident ${number}.` })
  return row
}

/** A page of the incidents of a project, newest first. */
export function listIncidents(ctx: ServiceContext, who: Who, project: string, { cursor, limit }: { cursor?: string; limit: number }) {
  const [before] = decodeCursor(cursor, 1) ?? [Number.MAX_SAFE_INTEGER]
  const rows = sql(ctx.db, LIST_INCIDENTS).all<IncidentRow>({ project, before, limit: limit + 1 })
  const items = itemsOf(
    ctx,
    who,
    project,
    rows.map((row) => row.number),
  )
  return pageOf(
    rows,
    limit,
    (row) => toIncident(row, items),
    (row) => [row.number],
  )
}

/** The items of incidents, of those that the asker may see. */
function itemsOf(ctx: ServiceContext, who: Who, project: string, numbers: readonly number[]): IncidentItemRow[] {
  return sql(ctx.db, LIST_INCIDENT_ITEMS)
    .all<IncidentItemRow>({ project, numbers: JSON.stringify(numbers) })
    .filter((item) => maySee(ctx.db, who, item.key))
}

function toIncident({ openedBy: _, ...row }: IncidentRow, items: readonly IncidentItemRow[]): Incident {
  const after = items.filter((item) => item.number === row.number && item.role === 'follow-up')
  return { ...row, followUps: after.length, openFollowUps: after.filter((item) => item.isOpen === 1).length }
}

/** An incident with what ran, changed and failed around it. Throws `not-found`. */
export function readIncident(ctx: ServiceContext, who: Who, project: string, number: number): IncidentDetail {
  const row = requireIncident(ctx, project, number)
  const items = itemsOf(ctx, who, project, [number])
  const during = windowOf(row, ctx.nowMs())
  const services = sql(ctx.db, LIST_SERVICES)
    .all<{ name: string; repository: string }>({ project })
    .filter((service) => row.service === null || service.name === row.service)
  const names = JSON.stringify(services.map((service) => service.name))
  const runs = runsOf(ctx, names, row.environment, during)
  const faults = faultsOf(ctx, names, row.environment, during)
  const notes = sql(ctx.db, LIST_NOTES).all<{ noteId: string; text: string; atMs: number; by: string }>({ project, number })
  const entries: IncidentEntry[] = [
    { kind: 'began', atMs: row.startedAtMs },
    ...(row.overAtMs === null ? [] : [{ kind: 'over' as const, atMs: row.overAtMs }]),
    ...notes.map((note) => ({ kind: 'note' as const, ...note })),
    ...runs.entries,
    ...faults.entries,
    ...mergesOf(ctx, JSON.stringify(services.map((service) => service.repository)), during),
  ]
  const requirements = [
    ...requirementsOfItems(
      ctx.db,
      items.filter((item) => item.role !== 'follow-up').map((item) => item.key),
    ).values(),
  ]
  return {
    ...toIncident(row, items),
    project,
    openedBy: row.openedBy,
    items: items.map(({ key, title, role, isOpen }) => ({ key, title, role, isOpen: isOpen === 1 })),
    releases: runs.releases,
    requirements: [...new Set(requirements.flat())].sort(),
    faults: faults.most,
    entries: entries.toSorted((a, b) => a.atMs - b.atMs),
  }
}

/** What was brought to the environment in the window, and what ran there while the incident lasted. */
function runsOf(ctx: ServiceContext, services: string, environment: string, during: IncidentWindow) {
  const rows = sql(ctx.db, LIST_RUNS).all<{
    service: string
    release: string
    environment: string
    state: string
    atMs: number
    ranAtMs: number | null
  }>({ services, environment, toMs: during.toMs })
  return {
    releases: releasesDuring(
      rows.filter((row) => row.ranAtMs !== null),
      during,
    ),
    entries: rows
      .filter((row) => row.atMs >= during.fromMs)
      .map(({ service, release, state, atMs }) => ({
        kind: 'deployment' as const,
        atMs,
        about: `${service}@${release}`,
        environment,
        state,
      })),
  }
}

/** Faults that were first seen in the window, and those that occurred most while the incident lasted. */
function faultsOf(ctx: ServiceContext, services: string, environment: string, during: IncidentWindow) {
  const faults = sql(ctx.db, LIST_FAULTS).all<{ number: number; fingerprint: string; title: string; atMs: number }>({
    services,
    toMs: during.toMs,
  })
  const counts = sql(ctx.volume, COUNT_BY_FAULT).all<{ fingerprint: string; count: number }>({
    fingerprints: JSON.stringify(faults.map((fault) => fault.fingerprint)),
    fromMinute: Math.floor(during.startedAtMs / MINUTE_MS),
    toMinute: Math.floor(during.toMs / MINUTE_MS),
    environment,
  })
  const countOf = new Map(counts.map(({ fingerprint, count }) => [fingerprint, count]))
  return {
    entries: faults
      .filter((fault) => fault.atMs >= during.fromMs)
      .map(({ number, title, atMs }) => ({ kind: 'fault' as const, atMs, about: `F-${number}`, title })),
    most: faults
      .flatMap(({ number, title, fingerprint }) => {
        const count = countOf.get(fingerprint) ?? 0
        return count > 0 ? [{ fault: `F-${number}`, title, count }] : []
      })
      .toSorted((a, b) => b.count - a.count)
      .slice(0, FAULTS_SHOWN),
  }
}

function mergesOf(ctx: ServiceContext, repositories: string, { fromMs, toMs }: IncidentWindow): IncidentEntry[] {
  return sql(ctx.db, LIST_MERGES)
    .all<{ repository: string; number: number; title: string; atMs: number }>({ repositories, fromMs, toMs })
    .map(({ repository, number, title, atMs }) => ({ kind: 'merge', atMs, about: `${repository}/${number}`, title }))
}
