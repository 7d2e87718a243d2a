import { readHookMessage } from '@dystracer/core/incoming/hook-reading'
import { type Hook as HookAnswer, type HookMessage, type HookTried, zHookId, type zSetHook } from '@dystracer/core/incoming/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { z } from 'zod'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { hookOf, renewSecretOf, secretOf, senderOf, toHook } from './hooks.js'
import { COUNT_MESSAGES, GET_HOOK, type HookRow, LIST_HOOKS, LIST_MESSAGES } from './hooks.queries.js'

const SHOWN = 50

/** The hooks of a project, by name. */
export function listHooks(ctx: ServiceContext, project: string): HookAnswer[] {
  return sql(ctx.db, LIST_HOOKS)
    .all<HookRow>({ project })
    .map((row) => {
      const { hookId, name, proof, readings } = toHook(row)
      const kept = sql(ctx.db, COUNT_MESSAGES).get<{ messages: number; lastAtMs: number | null }>({ sender: senderOf(hookId) })
      return {
        hookId,
        name,
        proof,
        readings,
        address: `${ctx.config.publicUrl}/receive/hooks/${hookId}`,
        messages: kept?.messages ?? 0,
        lastAtMs: kept?.lastAtMs ?? null,
      }
    })
}

/** Makes a hook, or changes one. Throws `invalid-input` for an id that cannot be one, `conflict` for another project's. */
export function setHook(
  ctx: ServiceContext,
  who: Who,
  { project, hookId }: { project: string; hookId: string },
  input: z.output<typeof zSetHook>,
): void {
  zHookId.parse(hookId, { reportInput: true })
  const known = sql(ctx.db, GET_HOOK).get<HookRow>({ hookId })
  if (known && known.project !== project)
    throw new Problem('conflict', { detail: `Another project has a hook ${hookId}. Choose another address.` })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'hook-set', actor: who.actor, subjects: [`project:${project}`], body: { project, hookId, ...input } })
  })
  secretOf(ctx.db, hookId)
}

/** Closes a hook; its secret is no good any more, and one of the same name later gets another. Throws `not-found`. */
export function removeHook(ctx: ServiceContext, who: Who, { project, hookId }: { project: string; hookId: string }): void {
  hookOf(ctx.db, hookId, project)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'hook-removed', actor: who.actor, subjects: [`project:${project}`], body: { project, hookId } })
  })
  renewSecretOf(ctx.db, hookId)
}

/** The newest messages of a hook, newest first, as they came. Throws `not-found`. */
export function messagesOf(ctx: ServiceContext, { project, hookId }: { project: string; hookId: string }): HookMessage[] {
  hookOf(ctx.db, hookId, project)
  return sql(ctx.db, LIST_MESSAGES)
    .all<Omit<HookMessage, 'message'> & { data: string }>({ sender: senderOf(hookId), limit: SHOWN })
    .map(({ data, ...row }) => ({ ...row, message: JSON.parse(data) }))
}

/** What readings would make of the messages that are kept, by the code that reads them as they come. Throws `not-found`. */
export function tryReadings(
  ctx: ServiceContext,
  of: { project: string; hookId: string },
  readings: Parameters<typeof readHookMessage>[1],
): HookTried[] {
  return messagesOf(ctx, of).map(({ deliveryId, atMs, message }) => {
    const read = readHookMessage(message, readings, { source: senderOf(of.hookId), id: String(deliveryId), atMs })
    if (read.kind === 'none') return { deliveryId, reading: null, tells: null, values: {}, lacks: [] }
    const { reading, tells } = read
    return { deliveryId, reading, tells, values: read.values as Record<string, string>, lacks: read.kind === 'lacks' ? read.lacks : [] }
  })
}
