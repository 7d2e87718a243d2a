import { Problem } from '@dystracer/core/basics/problem'
import { sql } from '../db/statements.js'
import { requireRole, type Who } from './access.js'
import { followFaults } from './faults.service.js'
import type { ServiceContext } from './service-context.js'

/** The number of a fault, also of one that went into another: theirs. Throws `not-found`. */
export function requireFaultNumber(ctx: Pick<ServiceContext, 'db'>, fault: string): number {
  const row = sql<object, { number: number; merged_into: number | null }>(ctx.db, 'SELECT number, merged_into FROM fault WHERE number = @number').get(
    {
      number: Number(/^F-(\d{1,9})$/i.exec(fault)?.[1] ?? 0),
    },
  )
  if (!row) throw new Problem('not-found', { detail: `There is no fault ${fault}.` })
  return row.merged_into ?? row.number
}

function fingerprintOf(ctx: Pick<ServiceContext, 'db'>, number: number): string {
  return sql<object, { fingerprint: string }>(ctx.db, 'SELECT fingerprint FROM fault WHERE number = @number').get({ number })?.fingerprint ?? ''
}

/** Makes one fault of two, for what is there and for all that comes: the first goes into the other, its items with it. */
export async function mergeFaults(ctx: ServiceContext, who: Who, fault: string, into: string): Promise<void> {
  requireRole(who, 'member')
  const [number, target] = [requireFaultNumber(ctx, fault), requireFaultNumber(ctx, into)]
  if (number === target) throw new Problem('conflict', { detail: `${fault} and ${into} are one fault already.` })
  // The decision first: should the server stop in between, the start carries it out (repairMerges).
  ctx.journal.write((writer) => {
    const items = itemsOf(ctx, number)
    writer.append({
      kind: 'fault-merged',
      actor: who.actor,
      subjects: [`fault:F-${number}`, `fault:F-${target}`, ...items.map((key) => `item:${key}`)],
      body: { number, into: target },
    })
    writer.touch(items)
  })
  await ctx.intake.call('mergeGroups', { from: fingerprintOf(ctx, number), into: fingerprintOf(ctx, target) })
  followFaults(ctx)
}

/** Takes what fails at the line of one occurrence out of a fault, for what is there and for all that comes; gives the new fault. Throws `conflict` when all of it fails there. */
export async function splitFault(ctx: ServiceContext, who: Who, fault: string, occurrenceId: number): Promise<string> {
  requireRole(who, 'member')
  const number = requireFaultNumber(ctx, fault)
  const belongs = sql(ctx.volume, 'SELECT 1 FROM occurrence WHERE occurrence_id = @occurrenceId AND fingerprint = @fingerprint').get({
    occurrenceId,
    fingerprint: fingerprintOf(ctx, number),
  })
  if (!belongs) throw new Problem('not-found', { detail: `${fault} has no such occurrence.` })
  const fingerprint = await ctx.intake.call('splitGroup', { occurrenceId })
  if (fingerprint === null)
    throw new Problem('conflict', {
      detail: `All occurrences of ${fault} in this release fail at this very line; there is nothing to tell them apart by.`,
    })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'fault-split', actor: who.actor, subjects: [`fault:F-${number}`], body: { number, fingerprint } })
  })
  followFaults(ctx)
  const made = sql<object, { number: number }>(ctx.db, 'SELECT number FROM fault WHERE fingerprint = @fingerprint').get({ fingerprint })
  return `F-${made?.number ?? number}`
}

/** Keeps a source map for the services of a repository, and finds the faults of that release anew. Throws `malformed-body` for a text that is no source map. */
export async function receiveSourceMap(
  ctx: ServiceContext,
  input: { repository: string; release: string; file: string; text: string },
): Promise<{ merged: number }> {
  const services = sql<object, { name: string }>(ctx.db, 'SELECT name FROM service WHERE repository = @repository ORDER BY name LIMIT 50')
    .all({ repository: input.repository })
    .map((row) => row.name)
  let merged = 0
  for (const service of services.length > 0 ? services : [input.repository]) {
    const release = input.release.startsWith(`${service}@`) ? input.release.slice(service.length + 1) : input.release.replace(/^v(?=\d)/, '')
    const answer = await ctx.intake.call('keepMap', { service, release, file: input.file, text: input.text, receivedAtMs: ctx.nowMs() })
    if ('why' in answer) throw new Problem('malformed-body', { detail: `This is no source map: ${answer.why}` })
    merged += answer.merged
  }
  noteMergedGroups(ctx)
  followFaults(ctx)
  return { merged }
}

/** Groups that a source map showed to be one: their faults become one, too. */
export function noteMergedGroups(ctx: ServiceContext): void {
  const aliases = sql<object, { fingerprint: string; into_fingerprint: string }>(
    ctx.volume,
    'SELECT fingerprint, into_fingerprint FROM group_alias ORDER BY fingerprint',
  ).all({})
  const pending = aliases.flatMap((alias) => {
    const row = sql<object, { number: number; merged_into: number | null }>(
      ctx.db,
      'SELECT number, merged_into FROM fault WHERE fingerprint = @fingerprint',
    ).get(alias)
    const into = sql<object, { number: number }>(
      ctx.db,
      'SELECT coalesce(merged_into, number) AS number FROM fault WHERE fingerprint = @fingerprint',
    ).get({
      fingerprint: alias.into_fingerprint,
    })
    return row && into && row.merged_into === null && row.number !== into.number ? [{ number: row.number, into: into.number }] : []
  })
  if (pending.length === 0) return
  ctx.journal.write((writer) => {
    for (const body of pending) {
      const items = itemsOf(ctx, body.number)
      writer.append({
        kind: 'fault-merged',
        actor: 'system',
        cause: 'a source map',
        subjects: [`fault:F-${body.number}`, `fault:F-${body.into}`, ...items.map((key) => `item:${key}`)],
        body,
      })
      writer.touch(items)
    }
  })
}

/** Carries out merges that were decided and not done when the server stopped. */
export async function repairMerges(ctx: ServiceContext): Promise<void> {
  const merges = sql<object, { from: string; into: string }>(
    ctx.db,
    'SELECT f.fingerprint AS "from", m.fingerprint AS "into" FROM fault f JOIN fault m ON m.number = f.merged_into WHERE f.merged_into IS NOT NULL ORDER BY f.number',
  ).all({})
  for (const merge of merges) {
    if (!sql(ctx.volume, 'SELECT 1 FROM group_alias WHERE fingerprint = @from').get(merge)) await ctx.intake.call('mergeGroups', merge)
  }
  noteMergedGroups(ctx)
}

function itemsOf(ctx: Pick<ServiceContext, 'db'>, number: number): string[] {
  return sql<object, { key: string }>(ctx.db, 'SELECT key FROM item WHERE fault = @fault ORDER BY key')
    .all({ fault: `F-${number}` })
    .map((row) => row.key)
}
