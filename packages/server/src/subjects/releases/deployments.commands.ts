import { deployerOf } from './deployer.slot.js'
import { Problem } from '@dystracer/core/basics/problem'
import { isToldDeployment, toldDeploymentId } from '@dystracer/core/releases/told-deployment'
import { sql } from '#platform/db/statements'
import { OutsideError } from '#platform/outside-error'
import { STRANGER, type Who } from '@dystracer/core/people/who'
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
  LIST_WAITING_FOR_GATES,
} from './deployments.queries.js'
import { authorsOnTheirWay, gatesOfPlace, judgeOnItsWay } from '#subjects/places/index'
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
  const goesByItself = environment.needs_approval === 0
  if (waiting) {
    if (waiting.state === 'approved') await sendOut(ctx, who, waiting.deployment_id)
    else if (goesByItself) await letOut(ctx, who, getDeployment(ctx, waiting.deployment_id))
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
  if (goesByItself) await letOut(ctx, who, getDeployment(ctx, deploymentId))
  return deploymentId
}

/** Sends a deployment out that nobody has to approve; where gates of its place do not hold yet, it waits for them. */
async function letOut(ctx: ServiceContext, who: Who, row: DeploymentRow): Promise<void> {
  const { deployment_id: deploymentId } = row
  if (gatesOfPlace(ctx, row.environment).length === 0) return sendOut(ctx, who, deploymentId)
  if (unmetOf(ctx, row).length > 0) return
  noteApproved(ctx, who, row, 'its gates hold')
  await sendOut(ctx, who, deploymentId)
}

const LOOK_EVERY_MS = 60_000
/** The product itself, which lets out what waited for its gates alone. */
const ITSELF: Who = { ...STRANGER, actor: 'system' }

/** Lets deployments out by themselves once the gates of their places hold, for as long as the server runs. */
export function startLettingOut(ctx: ServiceContext): void {
  ctx.jobs.every({ name: 'looking at gates of places', everyMs: LOOK_EVERY_MS, run: () => letOutWhatMay(ctx) })
}

/**
 * Lets out what waits for its gates alone and has them now. What the deployer refuses is noted as failed; that, or a release that is gone,
 * keeps no other back.
 */
export async function letOutWhatMay(ctx: ServiceContext): Promise<void> {
  for (const { deployment_id: deploymentId } of sql(ctx.db, LIST_WAITING_FOR_GATES).all<{ deployment_id: string }>({})) {
    try {
      const row = getDeployment(ctx, deploymentId)
      if (!withdrawalOf(ctx, row)) await letOut(ctx, ITSELF, row)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
    }
  }
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

/**
 * Agrees that a waiting deployment goes out; it does where that was the last thing missing. Throws `gate-closed` while anything but the
 * word of people is missing, or where the asker's word does not count.
 */
export async function approveDeployment(ctx: ServiceContext, who: Who, deploymentId: string): Promise<void> {
  const row = requireWaiting(ctx, deploymentId)
  requireStanding(ctx, row)
  const closed = unmetOf(ctx, row).filter((gate) => !WORDS_OF_PEOPLE.includes(gate.code))
  if (closed.length > 0)
    throw new Problem('gate-closed', {
      detail: `${row.service} ${row.release} may not go to ${row.environment} yet: ${closed.map(({ words }) => words).join('; ')}.`,
      facts: { gates: closed.map((gate) => gate.code) },
    })
  const agreed = gatesOfPlace(ctx, row.environment).find((gate) => gate.kind === 'agreed')
  if (agreed) {
    requireWordCounts(ctx, who, row, agreed.among)
    ctx.journal.write((writer) => {
      writer.append({ kind: 'deployment-agreed', actor: who.actor, subjects: subjectsOf(row), body: { deploymentId, isOn: true } })
    })
    if (unmetOf(ctx, row).some((gate) => gate.code === 'agreed')) return
  }
  noteApproved(ctx, who, row)
  await sendOut(ctx, who, deploymentId)
}

/** What is missing is the word of somebody. */
const WORDS_OF_PEOPLE: readonly string[] = ['approved', 'agreed']

/** Throws `gate-closed` for whom a gate does not ask, and for who wrote part of what goes out. */
function requireWordCounts(ctx: ServiceContext, who: Who, row: DeploymentRow, among: readonly string[]): void {
  if (who.personId === null || (among.length > 0 && !among.includes(who.personId)))
    throw new Problem('gate-closed', { detail: `Others are asked to agree to what goes to ${row.environment}.` })
  if (authorsOnTheirWay(ctx, onItsWay(row)).has(who.personId))
    throw new Problem('gate-closed', { detail: 'You wrote part of what goes out, so that somebody else has to agree.' })
}

/** Takes back that one agreed to a deployment that still waits. Throws `conflict` for one that went out. */
export function takeAgreementBack(ctx: ServiceContext, who: Who, deploymentId: string): void {
  const row = requireWaiting(ctx, deploymentId)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'deployment-agreed', actor: who.actor, subjects: subjectsOf(row), body: { deploymentId, isOn: false } })
  })
}

/** Notes that a check of its place was made by hand, or takes that back. Throws `conflict`, `invalid-input` for no check of the place. */
export async function checkDeployment(
  ctx: ServiceContext,
  who: Who,
  deploymentId: string,
  { words, isOn }: { words: string; isOn: boolean },
): Promise<void> {
  const row = requireWaiting(ctx, deploymentId)
  if (!gatesOfPlace(ctx, row.environment).some((gate) => gate.kind === 'check' && gate.words === words))
    throw new Problem('invalid-input', { fields: { words: `${row.environment} asks for no such check` } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'deployment-checked', actor: who.actor, subjects: subjectsOf(row), body: { deploymentId, words, isOn } })
  })
  if (row.needs_approval === 0 && !withdrawalOf(ctx, row)) await letOut(ctx, who, row)
}

/** Lets a waiting deployment go out though gates do not hold, for a reason. Throws `conflict`, `gate-closed` for a withdrawn one. */
export async function passOverGates(ctx: ServiceContext, who: Who, deploymentId: string, why: string): Promise<void> {
  const row = requireWaiting(ctx, deploymentId)
  requireStanding(ctx, row)
  const unmet = unmetOf(ctx, row).map(({ words }) => words)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'place-gates-passed-over', actor: who.actor, subjects: subjectsOf(row), body: { deploymentId, why, unmet } })
  })
  noteApproved(ctx, who, row)
  await sendOut(ctx, who, deploymentId)
}

const subjectsOf = (row: DeploymentRow) => [`release:${row.service}@${row.release}`, `environment:${row.environment}`]

function noteApproved(ctx: ServiceContext, who: Who, row: DeploymentRow, cause?: string): void {
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'deployment-approved',
      actor: who.actor,
      subjects: subjectsOf(row),
      ...(cause !== undefined && { cause }),
      body: { deploymentId: row.deployment_id },
    })
  })
}

/** Throws `not-found`, `conflict` for one that went out already. */
function requireWaiting(ctx: ServiceContext, deploymentId: string): DeploymentRow {
  const row = getDeployment(ctx, deploymentId)
  if (row.state !== 'asked') throw new Problem('conflict', { detail: `This deployment is ${row.state} already.` })
  return row
}

const onItsWay = (row: DeploymentRow) => ({ ...row, deploymentId: row.deployment_id })

function unmetOf(ctx: ServiceContext, row: DeploymentRow): JudgedDeploymentGate[] {
  return gatesOf(ctx, row).filter((gate) => !gate.isMet)
}

/** Throws `gate-closed` for a release that was withdrawn. */
function requireStanding(ctx: ServiceContext, { service, release }: { service: string; release: string }): void {
  const withdrawal = withdrawalOf(ctx, { service, release })
  if (withdrawal)
    throw new Problem('gate-closed', {
      detail: `${service} ${release} is withdrawn: ${withdrawal.why}. Let it stand again first, or choose another.`,
    })
}

/** Why a release was withdrawn; undefined while it stands. */
function withdrawalOf(ctx: ServiceContext, { service, release }: { service: string; release: string }): { why: string } | undefined {
  return sql(ctx.db, GET_WITHDRAWAL).get<{ why: string }>({ service, release })
}

/** A condition of a deployment, with whether it is met, in words for whoever waits. */
interface JudgedDeploymentGate {
  code: string
  isMet: boolean
  words: string
}

/** The conditions of a deployment: those that follow from its place being one that needs approval, then the gates of the place. */
export function gatesOf(ctx: ServiceContext, row: DeploymentRow): JudgedDeploymentGate[] {
  const further = judgeOnItsWay(ctx, onItsWay(row)).map(({ kind, ...gate }) => ({ code: kind, ...gate }))
  if (row.needs_approval === 0) return further
  const hasRun = sql(ctx.db, HAS_DEPLOYMENT_BY_SERVICE_AND_RELEASE).get({ service: row.service, release: row.release }) !== undefined
  const isApproved = row.state !== 'asked'
  return [
    // Where no place is for staging, nothing can have run in one.
    ...(sql(ctx.db, HAS_STAGING).get({})
      ? [{ code: 'ran-in-staging', isMet: hasRun, words: hasRun ? 'ran in staging' : 'has not run in staging' }]
      : []),
    ...further,
    { code: 'approved', isMet: isApproved, words: isApproved ? 'approved' : 'nobody has approved it' },
  ]
}

/** The conditions of a deployment by its id; none for one whose release is not there any more. */
export function gatesOfDeployment(ctx: ServiceContext, deploymentId: string): JudgedDeploymentGate[] {
  const row = sql(ctx.db, GET_DEPLOYMENT_BY_DEPLOYMENT_ID).get<DeploymentRow>({ deploymentId })
  return row ? gatesOf(ctx, row) : []
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
