import type { Who } from '@dystracer/core/people/who'
import { Problem } from '@dystracer/core/basics/problem'
import type { Deployment, Release, ReleaseBoard } from '@dystracer/core/releases/wire'
import { compareVersions } from '@dystracer/core/releases/compare-versions'
import { runSpans, type RunStart } from '@dystracer/core/releases/run-spans'
import { sql } from '#platform/db/statements'
import { placeDrift, type Heard } from '@dystracer/core/releases/place-drift'
import { deployerOf } from './deployer.slot.js'
import { gatesOfDeployment } from './deployments.commands.js'
import { agreedTo, passOf } from '#subjects/places/index'
import type { ServiceContext } from '#platform/context'
import { graphOf } from '#subjects/code/index'
import { nameOfPerson } from '#subjects/people/index'
import { hiddenServices, listItemsByKeys, onlyVisible } from '#subjects/records/index'
import {
  GET_AT_OF_ACTIVITY_MINUTE_BY_SERVICE,
  GET_WITHDRAWAL,
  LIST_DEPLOYMENT_BY_SERVICE,
  LIST_DEPLOYMENT_BY_SERVICE_AND_NAME,
  LIST_ENVIRONMENT,
  LIST_HEARD_BY_SERVICE,
  LIST_LINK_ASSERTION,
  LIST_RELEASE_BY_NAME_AND_SERVICE,
  LIST_RELEASE_BY_SERVICE,
  LIST_SERVICE,
} from './releases.queries.js'

/** A release as its table holds it, with the repository of its service. */
export interface ReleaseRow {
  service: string
  name: string
  tag: string
  sha: string
  at_ms: number
  is_rewritten: number
  repository: string
}
interface DeploymentRow {
  deployment_id: string
  service: string
  release: string
  environment: string
  state: Deployment['state']
  asked_by: string | null
  approved_by: string | null
  at_ms: number
  running_at_ms: number | null
  why: string | null
}

export function readReleaseBoard(ctx: ServiceContext, who: Who): ReleaseBoard {
  const environments = sql(ctx.db, LIST_ENVIRONMENT).all<{
    name: string
    kind: 'production' | 'staging' | 'test'
    needs_approval: number
    position: number
  }>({})
  const services = sql(ctx.db, LIST_SERVICE).all<{
    name: string
    repository: string
  }>({ hidden: hiddenServices(ctx.db, who) })
  const nowMs = ctx.nowMs()
  return {
    hasDeployer: deployerOf(ctx) !== null,
    environments: environments.map((row) => ({
      environment: row.name,
      kind: row.kind,
      needsApproval: row.needs_approval === 1,
      position: row.position,
    })),
    services: services.map(({ name: service, repository }) => {
      const releases = releaseRows(ctx, service)
      const deployments = sql(ctx.db, LIST_DEPLOYMENT_BY_SERVICE).all<DeploymentRow>({ service })
      return {
        service,
        repository,
        releases: releases.toReversed().map((row) => ({ ...toRelease(ctx, row), fixes: itemsFirstIn(ctx, row).length })),
        deployments: deployments.map((row) => toDeployment(ctx, row)),
        runs: runsOf(deployments),
        lastHeardAtMs: sql(ctx.volume, GET_AT_OF_ACTIVITY_MINUTE_BY_SERVICE).get<{ at: number | null }>({ service })?.at ?? null,
        drift: driftOf(ctx, service, { nowMs, places: environments.map((row) => row.name), releases, deployments }),
      }
    }),
  }
}

/** Where the programs of a service say that they are another release than was told to run there. */
function driftOf(
  ctx: ServiceContext,
  service: string,
  {
    nowMs,
    places,
    releases,
    deployments,
  }: { nowMs: number; places: readonly string[]; releases: readonly ReleaseRow[]; deployments: readonly DeploymentRow[] },
) {
  // A program may call itself by its tag (`v1.2.0`), and run where nobody set a place up: on somebody's own machine.
  const nameOfTag = new Map(releases.map(({ tag, name }) => [tag, name]))
  const told = deployments.flatMap(({ environment, release, state, running_at_ms: sinceMs }) =>
    state === 'running' && sinceMs !== null ? [{ environment, release, sinceMs }] : [],
  )
  const heard = sql(ctx.volume, LIST_HEARD_BY_SERVICE)
    .all<Heard>({ service, sinceMinute: Math.floor(nowMs / 60_000) - 60 })
    .filter(({ environment }) => places.includes(environment))
    .map((row) => ({ ...row, release: nameOfTag.get(row.release) ?? row.release }))
  return placeDrift({ heard, told, nowMs })
}

/**
 * What ran when, by environment. A release that is older by its name than the one whose place it took says
 * that this one was taken back.
 */
function runsOf(deployments: readonly DeploymentRow[]): ReleaseBoard['services'][number]['runs'] {
  const byEnvironment = new Map<string, RunStart[]>()
  for (const { deployment_id: deploymentId, environment, release, running_at_ms: runningAtMs } of deployments) {
    if (runningAtMs === null) continue
    const starts = byEnvironment.get(environment) ?? []
    byEnvironment.set(environment, [...starts, { deploymentId, release, runningAtMs }])
  }
  return [...byEnvironment].flatMap(([environment, starts]) =>
    runSpans(starts, (release, than) => compareVersions(release, than) < 0).map((span) => ({ environment, ...span })),
  )
}

function toDeployment(ctx: ServiceContext, row: DeploymentRow): Deployment {
  return {
    deploymentId: row.deployment_id,
    service: row.service,
    release: row.release,
    environment: row.environment,
    state: row.state,
    askedBy: row.asked_by,
    approvedBy: row.approved_by,
    atMs: row.at_ms,
    runningAtMs: row.running_at_ms,
    why: row.why,
    gates: row.state === 'asked' || row.state === 'approved' ? gatesOfDeployment(ctx, row.deployment_id) : [],
    agreedBy: agreedTo(ctx, row.deployment_id),
    passedOver: passOf(ctx, row.deployment_id),
  }
}

/** Releases of a service by the graph, oldest first (ties by time). */
function releaseRows(ctx: ServiceContext, service: string): ReleaseRow[] {
  return sql(ctx.db, LIST_RELEASE_BY_SERVICE).all<ReleaseRow>({ service })
}

/** The environments in which a release runs now, by name. */
export function placesOf(ctx: Pick<ServiceContext, 'db'>, service: string, name: string): string[] {
  return sql(ctx.db, LIST_DEPLOYMENT_BY_SERVICE_AND_NAME)
    .all<{ environment: string }>({ service, name })
    .map(({ environment }) => environment)
}

function toRelease(ctx: ServiceContext, row: ReleaseRow): Omit<Release, 'items'> {
  const withdrawal = sql(ctx.db, GET_WITHDRAWAL).get<{ why: string; by: string; atMs: number }>({ service: row.service, release: row.name })
  return {
    service: row.service,
    release: row.name,
    repository: row.repository,
    tag: row.tag,
    sha: row.sha,
    atMs: row.at_ms,
    isRewritten: row.is_rewritten === 1,
    withdrawn: withdrawal ? { ...withdrawal, by: nameOfPerson(ctx.db, withdrawal.by) ?? withdrawal.by } : null,
    runsIn: placesOf(ctx, row.service, row.name),
  }
}

/** Items with a fixing commit that this release has and none before it had. */
function itemsFirstIn(ctx: ServiceContext, row: ReleaseRow): string[] {
  const graph = graphOf(ctx, row.repository)
  const earlier = releaseRows(ctx, row.service)
    .filter((other) => other.at_ms < row.at_ms || (other.at_ms === row.at_ms && other.name < row.name))
    .map((other) => other.sha)
  const fresh = graph.between([row.sha], earlier)
  // There are fewer fixes than commits in a first release, so the fixes are looked up, not the commits.
  const fixes = sql(ctx.db, LIST_LINK_ASSERTION).all<{ from_id: string; to_id: string }>({
    from: `${row.repository}/`,
    to: `${row.repository}0`,
  })
  return [...new Set(fixes.filter((fix) => fresh.has(fix.to_id.slice(row.repository.length + 1))).map((fix) => fix.from_id))]
}

/** A release by `service@version`, or by a version that only one service has. Throws `not-found` and `ambiguous-reference`. */
export function requireRelease(ctx: Pick<ServiceContext, 'db'>, text: string): ReleaseRow {
  const at = text.lastIndexOf('@')
  const rows = sql(ctx.db, LIST_RELEASE_BY_NAME_AND_SERVICE).all<ReleaseRow>({
    name: text.slice(at + 1).replace(/^v(?=\d)/, ''),
    service: at > 0 ? text.slice(0, at) : null,
  })
  const [first] = rows
  if (!first) throw new Problem('not-found', { detail: `There is no release ${text}.` })
  if (rows.length > 1)
    throw new Problem('ambiguous-reference', {
      detail: `${rows.length} services have a release ${text}.`,
      facts: { choices: rows.map((row) => `${row.service}@${row.name}`) },
    })
  return first
}

/** A release and what it holds first, as far as the asker may see it. */
export function readRelease(ctx: ServiceContext, who: Who, text: string): Release {
  const first = requireRelease(ctx, text)
  return { ...toRelease(ctx, first), items: onlyVisible(ctx.db, who, listItemsByKeys(ctx.db, itemsFirstIn(ctx, first))) }
}

/** The keys of the items that a release holds first, whoever may see them. */
export function itemsOfRelease(ctx: ServiceContext, text: string): string[] {
  return itemsFirstIn(ctx, requireRelease(ctx, text))
}
