import { z } from 'zod'
import { kindOf, zCdEvent } from '@dystracer/core/incoming/cd-event'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { RepositorySync } from '#subjects/sync/index'
import { Unplaced } from './places.js'
import { tellArtefact, tellBuild, tellStep, tellTestCase } from './tell-builds.js'
import { tellChange, tellRepository } from './tell-code.js'
import { tellEnvironment, tellIncident, tellService } from './tell-running.js'

/** What became of a message: why it was passed over or only kept stands beside it. */
export type Received =
  | { outcome: 'taken'; why: null }
  | { outcome: 'passed over'; why: string }
  | { outcome: 'kept for later'; why: string; thing: string }

/**
 * Takes one CDEvents message, about repositories and services of the sender's project alone; whom it names did it is a fact that it tells,
 * never who acts here. It is read in the open specification's own shape; what that does not carry (a commit,
 * a branch) our additions may say, git says, or it stays unknown. What it is about may not be set up yet:
 * then it is kept. The same message again changes nothing. Throws
 * `invalid-input`, `not-allowed`.
 */
export async function receiveCdEvent(
  ctx: ServiceContext,
  parts: { sync: RepositorySync; who: Who | null },
  raw: unknown,
): Promise<Received> {
  const parsed = zCdEvent.safeParse(raw)
  if (!parsed.success) throw new Problem('invalid-input', { detail: `Not a CDEvents message: ${z.prettifyError(parsed.error)}` })
  const event = parsed.data
  const { who } = parts
  const { pipelineRun } = event.subject.content
  const isPart = pipelineRun !== undefined || event.context.chainId !== undefined
  const TELL: Record<string, () => string | null | Promise<string | null>> = {
    repository: () => tellRepository(ctx, parts, event),
    branch: () => tellRepository(ctx, parts, event),
    change: () => tellChange(ctx, parts, event),
    build: () => tellBuild(ctx, who, event),
    pipelinerun: () => tellBuild(ctx, who, event),
    taskrun: () => (isPart ? tellStep(ctx, who, event) : tellBuild(ctx, who, event)),
    testsuiterun: () => (isPart ? tellStep(ctx, who, event) : tellBuild(ctx, who, event)),
    testcaserun: () => tellTestCase(ctx, who, event),
    artifact: () => tellArtefact(ctx, who, event),
    service: () => tellService(ctx, who, event),
    environment: () => tellEnvironment(ctx, who, event),
    incident: () => tellIncident(ctx, who, event),
  }
  const tell = Object.hasOwn(TELL, kindOf(event).subject) ? TELL[kindOf(event).subject] : undefined
  if (!tell) return { outcome: 'passed over', why: `Nothing here rests on events of the type ${event.context.type}.` }
  try {
    const why = await tell()
    return why === null ? { outcome: 'taken', why } : { outcome: 'passed over', why }
  } catch (error) {
    if (error instanceof Unplaced)
      return { outcome: 'kept for later', why: `${error.message} It is kept, and taken once there is.`, thing: error.thing }
    throw error
  }
}
