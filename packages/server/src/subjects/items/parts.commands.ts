import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { zSayAffected } from '@dystracer/core/items/wire'
import type { z } from 'zod'
import { sql } from '#platform/db/statements'
import { HAS_ENVIRONMENT_NAMED, HAS_RELEASE } from './affected.queries.js'
import {
  assertLink,
  currentKey,
  findLoop,
  listAssertions,
  mayReadThing,
  maySee,
  requireItem,
  retractAssertion,
} from '#subjects/records/index'

/**
 * Says that a defect is in a release where that runs, or is not; null takes it back. Throws `invalid-input` for a release or environment
 * that is not here.
 */
export function sayAffected(ctx: ServiceContext, who: Who, key: string, input: z.output<typeof zSayAffected>): void {
  const item = requireItem(ctx, key)
  if (!sql(ctx.db, HAS_RELEASE).get(input) || !mayReadThing(ctx.db, who, { kind: 'service', id: input.service }))
    throw new Problem('invalid-input', { fields: { release: `${input.service} has no release ${input.release}` } })
  if (!sql(ctx.db, HAS_ENVIRONMENT_NAMED).get(input))
    throw new Problem('invalid-input', { fields: { environment: `There is no environment ${input.environment}` } })
  ctx.journal.write((writer) => {
    writer.append({ kind: 'item-affected-said', actor: who.actor, subjects: [`item:${item.key}`], body: { key: item.key, ...input } })
  })
}

/** What both links of a move say that they follow from, so that an undo takes back both. */
export const MOVED_BELOW = 'made part of another'

/**
 * Makes an item a part of another one and of no other, or of none, in one write. Throws `conflict` where that would close a loop,
 * `invalid-input` for a parent that is not there.
 */
export function setParent(ctx: ServiceContext, who: Who, key: string, parent: string | null): void {
  requireItem(ctx, key)
  const parentKey = parent === null ? null : currentKey(ctx.db, parent.toUpperCase())
  if (parentKey !== null) {
    if (!maySee(ctx.db, who, parentKey)) throw new Problem('invalid-input', { fields: { parent: `There is no item ${parent}` } })
    requireItem(ctx, parentKey)
    const loop = findLoop(ctx, 'parent', parentKey, key)
    if (loop) throw new Problem('conflict', { detail: `That would close a loop: ${[key, ...loop].join(' → ')}.` })
  }
  const parents = listAssertions(ctx.db, { kind: 'item', id: key }).filter((row) => row.kind === 'parent' && row.from_id === key)
  ctx.journal.write((writer) => {
    for (const row of parents) if (row.to_id !== parentKey) retractAssertion(writer, row, who.actor, { cause: MOVED_BELOW })
    if (parentKey !== null && !parents.some((row) => row.to_id === parentKey))
      assertLink(ctx.db, writer, {
        kind: 'parent',
        from: { kind: 'item', id: key },
        to: { kind: 'item', id: parentKey },
        provenance: 'person',
        source: null,
        statedBy: who.actor,
        actor: who.actor,
        cause: MOVED_BELOW,
      })
  })
}
