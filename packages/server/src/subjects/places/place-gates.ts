import { compareTips } from '@dystracer/core/code/compare-tips'
import type { Filter } from '@dystracer/core/filter/filter'
import { STRANGER, type Who } from '@dystracer/core/people/who'
import { type JudgedGate, judgeGates, type PlaceFacts, type PlaceGate } from '@dystracer/core/places/gates'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { authorsOfCommits, graphOf, newestBuildState } from '#subjects/code/index'
import { listItems } from '#subjects/looking/index'
import {
  COUNT_NEW_FAULTS_IN_PLACE,
  COUNT_UNITS_IN_PLACE,
  GET_PASS,
  GET_PLACE_BEFORE,
  GET_PLACE_GATE,
  GET_PROJECT_OF_SERVICE,
  GET_RUN_IN_PLACE,
  GET_RUNNING_IN_PLACE,
  LIST_AGREEMENT_OF_DEPLOYMENT,
  LIST_CHECK_OF_DEPLOYMENT,
  LIST_PLACE_GATE,
} from './places.queries.js'

/** A release on its way to a place. */
export interface OnItsWay {
  deploymentId: string
  service: string
  release: string
  environment: string
  repository: string
  sha: string
}

const MINUTE_MS = 60_000
/** Of a release that brings more changes than these, the authors of the newest are asked for. */
const CHANGES_MAX = 20_000

/** What has to hold before a release may come to each environment. */
export function listPlaceGates(ctx: Pick<ServiceContext, 'db'>): { rows: { environment: string; gates: PlaceGate[] }[] } {
  return {
    rows: sql(ctx.db, LIST_PLACE_GATE)
      .all<{ environment: string; gates: string }>({})
      .map(({ environment, gates }) => ({ environment, gates: JSON.parse(gates) as PlaceGate[] })),
  }
}

/** The gates of one environment. */
export function gatesOfPlace(ctx: Pick<ServiceContext, 'db'>, environment: string): PlaceGate[] {
  const row = sql(ctx.db, GET_PLACE_GATE).get<{ gates: string }>({ environment })
  return row ? (JSON.parse(row.gates) as PlaceGate[]) : []
}

/** Each gate of the place that a release is on its way to, with whether it holds. */
export function judgeOnItsWay(ctx: ServiceContext, to: OnItsWay): JudgedGate[] {
  const gates = gatesOfPlace(ctx, to.environment)
  return gates.length === 0 ? [] : judgeGates(gates, factsOf(ctx, to, gates))
}

/** Who agreed that a deployment goes out. */
export function agreedTo(ctx: Pick<ServiceContext, 'db'>, deploymentId: string): string[] {
  return sql(ctx.db, LIST_AGREEMENT_OF_DEPLOYMENT)
    .all<{ personId: string }>({ deploymentId })
    .map(({ personId }) => personId)
}

/** The checks by hand that people made for a deployment, in their words. */
export function checkedFor(ctx: Pick<ServiceContext, 'db'>, deploymentId: string): string[] {
  return sql(ctx.db, LIST_CHECK_OF_DEPLOYMENT)
    .all<{ words: string }>({ deploymentId })
    .map(({ words }) => words)
}

/** Why gates were passed over for a deployment, which, and by whom. */
export function passOf(ctx: Pick<ServiceContext, 'db'>, deploymentId: string): { why: string; by: string; unmet: string[] } | null {
  const row = sql(ctx.db, GET_PASS).get<{ why: string; by: string; unmet: string }>({ deploymentId })
  return row ? { ...row, unmet: JSON.parse(row.unmet) as string[] } : null
}

/** The release of a service that runs in an environment now. */
export function runningIn(
  ctx: Pick<ServiceContext, 'db'>,
  service: string,
  environment: string,
): { name: string; sha: string } | undefined {
  return sql(ctx.db, GET_RUNNING_IN_PLACE).get<{ name: string; sha: string }>({ service, environment })
}

/** Who wrote something of what a release brings to a place that does not run there yet. */
export function authorsOnTheirWay(ctx: ServiceContext, { service, environment, repository, sha }: OnItsWay): Set<string> {
  const running = runningIn(ctx, service, environment)
  const { added } = compareTips(graphOf(ctx, repository), sha, running?.sha ?? null)
  return authorsOfCommits(ctx.db, repository, added.slice(-CHANGES_MAX))
}

/** What the gates ask for; what none of them asks for is not read. */
function factsOf(ctx: ServiceContext, to: OnItsWay, gates: readonly PlaceGate[]): PlaceFacts {
  const asks = (kind: PlaceGate['kind']) => gates.some((gate) => gate.kind === kind)
  const { deploymentId, repository, sha } = to
  return {
    nowMs: ctx.nowMs(),
    before: asks('soak') ? beforeOf(ctx, to) : null,
    build: asks('build') ? newestBuildState(ctx.db, repository, sha) : null,
    openBySeverity: gates.flatMap((gate) => (gate.kind === 'severity' ? openBySeverity(ctx, to.service, gate.atLeast) : [])),
    agreed: agreedTo(ctx, deploymentId),
    authors: asks('agreed') ? authorsOnTheirWay(ctx, to) : new Set(),
    checked: new Set(checkedFor(ctx, deploymentId)),
  }
}

function beforeOf(ctx: ServiceContext, { service, release, environment }: OnItsWay): PlaceFacts['before'] {
  const place = sql(ctx.db, GET_PLACE_BEFORE).get<{ name: string }>({ environment })
  if (!place) return null
  const of = { service, release, environment: place.name }
  const run = sql(ctx.db, GET_RUN_IN_PLACE).get<{ sinceMs: number | null; untilMs: number | null }>(of)
  const sinceMs = run?.sinceMs ?? null
  if (sinceMs === null) return { environment: place.name, sinceMs: null, ranMs: 0, units: 0, newFaults: 0 }
  return {
    environment: place.name,
    sinceMs,
    ranMs: Math.max(0, (run?.untilMs ?? ctx.nowMs()) - sinceMs),
    units: sql(ctx.volume, COUNT_UNITS_IN_PLACE).get<{ count: number }>({ ...of, fromMinute: Math.floor(sinceMs / MINUTE_MS) })?.count ?? 0,
    newFaults: sql(ctx.volume, COUNT_NEW_FAULTS_IN_PLACE).get<{ count: number }>(of)?.count ?? 0,
  }
}

/**
 * Open items of a service's project, so severe or worse, that are still to be merged; confidential ones too, since a gate tells their
 * number alone.
 */
function openBySeverity(ctx: ServiceContext, service: string, atLeast: number): PlaceFacts['openBySeverity'] {
  const project = sql(ctx.db, GET_PROJECT_OF_SERVICE).get<{ project: string }>({ service })?.project
  if (project === undefined) return []
  const all: Who = { ...STRANGER, roles: { [project]: 'lead' } }
  return Array.from({ length: atLeast }, (_, at) => at + 1).map((severity) => {
    const filter: Filter = {
      kind: 'and',
      parts: [
        { kind: 'compare', field: 'project', comparison: '=', value: project },
        { kind: 'compare', field: 'severity', comparison: '=', value: String(severity) },
        { kind: 'compare', field: 'stage', comparison: '<', value: 'merged' },
        { kind: 'flag', flag: 'open' },
      ],
    }
    return { severity, count: listItems(ctx, all, { filter, sort: 'newest', limit: 1 }).total ?? 0 }
  })
}
