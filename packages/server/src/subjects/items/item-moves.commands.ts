import { COPIED_FIELDS, type CopiedField } from '@dystracer/core/setup/item-fields'
import type { ItemFields } from '@dystracer/core/records/events'
import { Problem } from '@dystracer/core/basics/problem'
import type { OwnValue } from '@dystracer/core/setup/own-field'
import type { ServiceContext } from '#platform/context'
import type { Who } from '@dystracer/core/people/who'
import { logItem } from './items.commands.js'
import { notify } from '#subjects/inbox/index'
import { requireRight } from '#subjects/people/index'
import { assertLink, nextItemKey, requireItem, fieldOf } from '#subjects/records/index'
import { checkOwnValues, checkType, readSetup, requireProject } from '#subjects/setup/index'
import { addComment } from '#subjects/talk/index'

/**
 * Moves an item to another project: it gets a number there, its old key stays an alias. Own fields that the other project lacks are dropped
 * and named.
 */
export function moveItem(ctx: ServiceContext, who: Who, key: string, project: string): string {
  requireRight(who, 'items.log', project)
  const row = requireItem(ctx, key)
  requireProject(ctx.db, project)
  if (row.project === project) throw new Problem('conflict', { detail: `${key} is in ${project} already.` })
  checkType(ctx.db, project, row.type, {})
  const own = JSON.parse(row.own_values) as Record<string, OwnValue>
  const taken = new Set(readSetup(ctx.db, project).ownFields.map((field) => field.fieldId))
  const kept = Object.fromEntries(Object.entries(own).filter(([fieldId]) => taken.has(fieldId)))
  checkOwnValues(ctx.db, project, kept)
  return ctx.journal.write((writer) => {
    if (Object.keys(kept).length < Object.keys(own).length)
      writer.append({
        kind: 'item-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: `moving to ${project}, which lacks these fields`,
        body: { key, changes: { ownValues: { from: own, to: kept } } },
      })
    const { number, key: newKey } = nextItemKey(ctx, project)
    writer.append({
      kind: 'item-moved',
      actor: who.actor,
      subjects: [`item:${newKey}`],
      cause: `was ${key}`,
      body: { key, newKey, project, number },
    })
    return newKey
  })
}
/** Logs a new item with the fields of another, and ties the two. */
export function copyItem(ctx: ServiceContext, who: Who, key: string): string {
  const row = requireItem(ctx, key)
  const copied = Object.fromEntries(COPIED_FIELDS.map((name) => [name, fieldOf(row, name)])) as Pick<ItemFields, CopiedField>
  const copy = logItem(ctx, who, { ...copied, project: row.project })
  ctx.journal.write((writer) => {
    assertLink(ctx.db, writer, {
      kind: 'see-also',
      from: { kind: 'item', id: copy },
      to: { kind: 'item', id: key },
      provenance: 'person',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
      cause: 'copied',
    })
  })
  return copy
}
export function follow(ctx: ServiceContext, who: Who, key: string, isOn: boolean): void {
  if (who.personId === null) throw new Problem('sign-in-required', { detail: 'Sign in to follow an item.' })
  const { personId } = who
  requireItem(ctx, key)
  ctx.journal.write((writer) => {
    writer.append({ kind: 'follower-changed', actor: who.actor, subjects: [`item:${key}`], body: { key, personId, isOn } })
  })
}
/** "It is this one": what was about to be logged joins an item as a comment, and its reporter follows it. */
export function reportAgain(ctx: ServiceContext, who: Who, key: string, report: { title: string; description: string }): void {
  const row = requireItem(ctx, key)
  addComment(ctx, who, key, { text: `**Reported again: ${report.title}**\n\n${report.description}`.trim() })
  ctx.journal.write((writer) => {
    if (who.personId !== null)
      writer.append({
        kind: 'follower-changed',
        actor: who.actor,
        subjects: [`item:${key}`],
        cause: 'reported again',
        body: { key, personId: who.personId, isOn: true },
      })
    notify(ctx, writer, { key, by: who, personIds: [row.owner_id], why: 'reported-again', words: report.title })
  })
}
