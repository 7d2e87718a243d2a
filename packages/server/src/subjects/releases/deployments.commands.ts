import { deployerOf } from './deployer.slot.js'
import { Problem } from '@dystracer/core/basics/problem'
import { isToldDeployment, toldDeploymentId } from '@dystracer/core/releases/told-deployment'
import { sql } from '#platform/db/statements'
import { OutsideError } from '#platform/outside-error'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { requireRightInOneOf } from '#subjects/people/index'
import { itemsOfRepository, projectsOfService } from '#subjects/records/index'
import {
  GET_DEPLOYMENT_BY_DEPLOYMENT_ID,
  GET_DEPLOYMENT_BY_SERVICE_AND_ENVIRONMENT,
  GET_NEEDS_APPROVAL_OF_ENVIRONMENT_BY_ENVIRONMENT,
  GET_REPOSITORY_OF_SERVICE_BY_SERVICE,
  GET_SERVICE_OF_DEPLOYMENT_BY_DEPLOYMENT_ID,
  GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE,
  HAS_DEPLOYMENT_BY_SERVICE_AND_RELEASE,
  HAS_ENVIRONMENT_BY_NAME,
  HAS_STAGING,
} from './deployments.queries.js'
import { GET_WITHDRAWAL } from './releases.queries.js'

interface DeploymentRow {
  deployment_id: string
  service: string
  release: string
  environment: string
  state: string
  repository: string
  tag: string
  sha: string
  needs_approval: number
}

/**
 * Asks for a release in an environment: goes out at once where no approval is needed, and once more when it was asked for before and
 * nothing was heard of it. Gives the deployment's id.
 */
export async function askDeployment(
  ctx: ServiceContext,
  who: Who,
  input: { service: string; release: string; environment: string },
): Promise<string> {
  requireRightInOneOf(who, 'releases.deploy', projectsOfService(ctx.db, input.service))
  const release = sql(ctx.db, GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE).get<{ sha: string }>({
    service: input.service,
    release: input.release,
  })
  const environment = sql(ctx.db, GET_NEEDS_APPROVAL_OF_ENVIRONMENT_BY_ENVIRONMENT).get<{ needs_approval: number }>({
    environment: input.environment,
  })
  if (!release || !environment) throw new Problem('invalid-input', { fields: { release: 'There is no such release or environment' } })
  requireStanding(ctx, input)
  if (environment.needs_approval === 0 && deployerOf(ctx) === null)
    throw new Problem('outside-unreachable', { detail: 'No deployer is connected. Bring it there, and say that it runs.' })
  const waiting = sql(ctx.db, GET_DEPLOYMENT_BY_SERVICE_AND_ENVIRONMENT).get<{ deployment_id: string; state: string }>(input)
  if (waiting) {
    if (environment.needs_approval === 0 || waiting.state === 'approved') await sendOut(ctx, who, waiting.deployment_id)
    return waiting.deployment_id
  }
  const deploymentId = ctx.newId()
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'deployment-asked',
      actor: who.actor,
      subjects: [`release:${input.service}@${input.release}`, `environment:${input.environment}`],
      body: { deploymentId, ...input },
    })
  })
  if (environment.needs_approval === 0) await sendOut(ctx, who, deploymentId)
  return deploymentId
}

/**
 * Says that a release runs in an environment; where it was asked for, that deployment runs now. Throws `invalid-input` for a release or an
 * environment that is not there, and for a time that is yet to come.
 */
export function tellDeployment(
  ctx: ServiceContext,
  who: Who,
  { atMs = ctx.nowMs(), ...place }: { service: string; release: string; environment: string; atMs?: number },
): void {
  requireRightInOneOf(who, 'releases.deploy', projectsOfService(ctx.db, place.service))
  if (!sql(ctx.db, GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE).get({ service: place.service, release: place.release }))
    throw new Problem('invalid-input', { fields: { release: 'There is no such release' } })
  if (atMs > ctx.nowMs() + CLOCKS_MS) throw new Problem('invalid-input', { fields: { atMs: 'That is yet to come' } })
  const waiting = sql(ctx.db, GET_DEPLOYMENT_BY_SERVICE_AND_ENVIRONMENT).get<{ deployment_id: string }>(place)
  const deploymentId = waiting?.deployment_id ?? toldDeploymentId(ctx.newId())
  const idempotencyKey = `told/${deploymentId}/${atMs}`
  const isSeen = seeDeployment(ctx, { ...place, deploymentId, atMs, by: who.personId, idempotencyKey, actor: who.actor })
  if (!isSeen) throw new Problem('invalid-input', { fields: { environment: 'There is no such environment' } })
}
/**
 * Takes back that a release runs somewhere: what was asked for waits again, what was only told is gone. Throws `not-found`, `conflict` for
 * one that never ran, or that the deployer brought there.
 */
export function takeDeploymentBack(ctx: ServiceContext, who: Who, deploymentId: string): void {
  const { service, release, environment, repository, state } = getDeployment(ctx, deploymentId)
  if (state !== 'running' && state !== 'replaced') throw new Problem('conflict', { detail: 'Nobody said that it runs.' })
  if (!isToldDeployment(deploymentId) && deployerOf(ctx) !== null)
    throw new Problem('conflict', { detail: 'The deployer brought it there; bring another release there instead.' })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'deployment-taken-back',
      actor: who.actor,
      subjects: [`release:${service}@${release}`, `environment:${environment}`],
      body: { deploymentId, service, release, environment },
    })
    writer.touch(itemsOfRepository(ctx, repository))
  })
}
/** Clocks of two machines may differ by so much. */
const CLOCKS_MS = 5 * 60_000

/** Lets a waiting deployment go out. Throws `gate-closed` while the release has not run in a staging environment. */
export async function approveDeployment(ctx: ServiceContext, who: Who, deploymentId: string): Promise<void> {
  const row = getDeployment(ctx, deploymentId)
  if (row.state !== 'asked') throw new Problem('conflict', { detail: `This deployment is ${row.state} already.` })
  requireStanding(ctx, row)
  const closed = gatesOf(ctx, row).filter((gate) => !gate.isMet && gate.code !== 'approved')
  if (closed.length > 0)
    throw new Problem('gate-closed', {
      detail: `${row.service} ${row.release} has not run in staging yet. Deploy it there first.`,
      facts: { gates: closed.map((gate) => gate.code) },
    })
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'deployment-approved',
      actor: who.actor,
      subjects: [`release:${row.service}@${row.release}`, `environment:${row.environment}`],
      body: { deploymentId },
    })
  })
  await sendOut(ctx, who, deploymentId)
}

/** Throws `gate-closed` for a release that was withdrawn. */
function requireStanding(ctx: ServiceContext, { service, release }: { service: string; release: string }): void {
  const withdrawal = sql(ctx.db, GET_WITHDRAWAL).get<{ why: string }>({ service, release })
  if (withdrawal)
    throw new Problem('gate-closed', {
      detail: `${service} ${release} is withdrawn: ${withdrawal.why}. Let it stand again first, or choose another.`,
    })
}

/** The conditions of a deployment, each with whether it is met. */
export function gatesOf(
  ctx: Pick<ServiceContext, 'db'>,
  row: { service: string; release: string; environment: string; state: string },
): { code: string; isMet: boolean }[] {
  const needs =
    sql(ctx.db, GET_NEEDS_APPROVAL_OF_ENVIRONMENT_BY_ENVIRONMENT).get<{ needs_approval: number }>({
      environment: row.environment,
    })?.needs_approval === 1
  if (!needs) return []
  const hasRun = sql(ctx.db, HAS_DEPLOYMENT_BY_SERVICE_AND_RELEASE).get({ service: row.service, release: row.release })
  return [
    // Where no place is for staging, nothing can have run in one.
    ...(sql(ctx.db, HAS_STAGING).get({}) ? [{ code: 'ran-in-staging', isMet: hasRun !== undefined }] : []),
    { code: 'approved', isMet: row.state !== 'asked' },
  ]
}

/** The service that a deployment is of; throws `not-found`. */
export function serviceOfDeployment(ctx: Pick<ServiceContext, 'db'>, deploymentId: string): string {
  const row = sql(ctx.db, GET_SERVICE_OF_DEPLOYMENT_BY_DEPLOYMENT_ID).get<{ service: string }>({ deploymentId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such deployment.' })
  return row.service
}

function getDeployment(ctx: ServiceContext, deploymentId: string): DeploymentRow {
  const row = sql(ctx.db, GET_DEPLOYMENT_BY_DEPLOYMENT_ID).get<DeploymentRow>({ deploymentId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such deployment.' })
  return row
}

async function sendOut(ctx: ServiceContext, who: Who, deploymentId: string): Promise<void> {
  const row = getDeployment(ctx, deploymentId)
  const deployer = deployerOf(ctx)
  // Without a deployer somebody brings it there, and says so.
  if (!deployer) return
  try {
    await deployer.deploy({
      deploymentId,
      service: row.service,
      release: row.release,
      tag: row.tag,
      sha: row.sha,
      environment: row.environment,
      by: who.personId ?? who.actor,
    })
  } catch (error) {
    if (!(error instanceof OutsideError)) throw error
    ctx.journal.write((writer) => {
      writer.append({
        kind: 'deployment-failed',
        actor: 'source:deployer',
        subjects: [`release:${row.service}@${row.release}`, `environment:${row.environment}`],
        body: { deploymentId, why: error.message },
      })
    })
    throw new Problem('outside-unreachable', {
      detail: `The deployer did not take it: ${error.message}. Ask again when it answers.`,
      cause: error,
    })
  }
}

/**
 * Journals that a release runs in an environment, as the deployer's event says; the ladders of its repository's items follow. False where
 * service or environment is not set up.
 */
export function seeDeployment(
  ctx: ServiceContext,
  input: {
    deploymentId: string
    service: string
    release: string
    environment: string
    atMs: number
    by: string | null
    idempotencyKey: string
    actor?: string
  },
): boolean {
  const repository = sql(ctx.db, GET_REPOSITORY_OF_SERVICE_BY_SERVICE).get<{ repository: string }>({
    service: input.service,
  })?.repository
  if (!repository || !sql(ctx.db, HAS_ENVIRONMENT_BY_NAME).get({ name: input.environment })) return false
  const { deploymentId, service, release, environment } = input
  ctx.journal.write((writer) => {
    const entry = writer.append({
      kind: 'deployment-seen',
      actor: input.actor ?? 'source:deployer',
      atMs: input.atMs,
      idempotencyKey: input.idempotencyKey,
      subjects: [`release:${service}@${release}`, `environment:${environment}`],
      body: { deploymentId, service, release, environment, ...(input.by !== null && { by: input.by }) },
    })
    if (entry) writer.touch(itemsOfRepository(ctx, repository))
  })
  return true
}
