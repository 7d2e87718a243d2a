import { Problem } from '@dystracer/core/basics/problem'
import { type SetEnvironment, zEnvironmentName } from '@dystracer/core/releases/wire'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { itemsOfRepository } from '#subjects/records/index'
import {
  GET_ENVIRONMENT_BY_NAME,
  GET_LAST_POSITION,
  HAS_DEPLOYMENT_BY_ENVIRONMENT,
  LIST_REPOSITORY_OF_SERVICE,
} from './environments.queries.js'

const POSITION_MAX = 1000

interface EnvironmentRow {
  kind: SetEnvironment['kind']
  needs_approval: number
  position: number
}

/** Sets an environment up or changes it; the ladders follow where what counts as production changes. Throws `invalid-input`. */
export function setEnvironment(ctx: ServiceContext, who: Who, environment: string, input: SetEnvironment): void {
  const parsed = zEnvironmentName.safeParse(environment)
  if (!parsed.success) throw new Problem('invalid-input', { fields: { environment: parsed.error.issues[0]?.message ?? 'Not a name' } })
  const name = parsed.data
  const known = sql(ctx.db, GET_ENVIRONMENT_BY_NAME).get<EnvironmentRow>({ name })
  if (known && known.kind === input.kind && known.needs_approval === Number(input.needsApproval) && known.position === input.position)
    return
  ctx.journal.write((writer) => {
    writer.append({
      kind: known ? 'environment-changed' : 'environment-added',
      actor: who.actor,
      subjects: [`environment:${name}`],
      body: { name, ...input },
    })
    if (known?.kind !== input.kind && [known?.kind, input.kind].includes('production')) touchReleased(ctx, writer)
  })
}

/** Sets an environment up that was heard of from outside, behind the others; false where it is there already. */
export function seeEnvironment(
  ctx: ServiceContext,
  { name, kind, idempotencyKey }: { name: string; kind: SetEnvironment['kind']; idempotencyKey: string },
): boolean {
  if (sql(ctx.db, GET_ENVIRONMENT_BY_NAME).get({ name })) return false
  const last = sql(ctx.db, GET_LAST_POSITION).get<{ position: number | null }>({})?.position ?? 0
  ctx.journal.write((writer) => {
    writer.append({
      kind: 'environment-added',
      actor: 'source:deployer',
      subjects: [`environment:${name}`],
      idempotencyKey,
      body: { name, kind, needsApproval: false, position: Math.min(last + 1, POSITION_MAX) },
    })
  })
  return true
}

/** Removes an environment. Throws `not-found`, and `conflict` where something was brought there: its past would lose its place. */
export function removeEnvironment(ctx: ServiceContext, who: Who, environment: string): void {
  const known = sql(ctx.db, GET_ENVIRONMENT_BY_NAME).get<EnvironmentRow>({ name: environment })
  if (!known) throw new Problem('not-found', { detail: `There is no environment ${environment}.` })
  if (sql(ctx.db, HAS_DEPLOYMENT_BY_ENVIRONMENT).get({ name: environment }))
    throw new Problem('conflict', {
      detail: `Releases were brought to ${environment}, so it stays. Make it a test environment if it serves no more.`,
    })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'environment-removed', actor: who.actor, subjects: [`environment:${environment}`], body: { name: environment } })
    if (known.kind === 'production') touchReleased(ctx, writer)
  })
}

/** Everything that rests on what runs in production is computed anew. */
function touchReleased(ctx: ServiceContext, writer: JournalWriter): void {
  for (const { repository } of sql(ctx.db, LIST_REPOSITORY_OF_SERVICE).all<{ repository: string }>({}))
    writer.touch(itemsOfRepository(ctx, repository))
}
