import { findLoop, assertLink, getItem, currentKey, maySee } from '#subjects/records/index'
import { Problem } from '@dystracer/core/basics/problem'
import type { ImportedTie, ImportProblem, PlannedItem } from '@dystracer/core/imports/import-fields'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import type { JournalWriter } from '#platform/journal/journal'
import { requireRequirement, tieRequirement } from '#subjects/items/index'
import { fetchOpen } from '#platform/net/fetch-open'
import { OutsideError } from '#platform/outside-error'
import { addAttachment, bookTime, writeImportedComment } from '#subjects/talk/index'

/** A tie between a row and something else, to be made once all rows are in. */
export interface Tie {
  row: number
  /** The item that the row became; `row 7` where a trial made none. */
  key: string
  kind: ImportedTie | 'parent'
  to: string
}

/** What an imported item brings along besides its fields: where it stood, how it ended, what was worked and said. */
export function bringAlong(ctx: ServiceContext, writer: JournalWriter, who: Who, key: string, planned: PlannedItem): void {
  const { baseline, rejected, spentMinutes, comments, createdAtMs } = planned
  const common = { actor: who.actor, subjects: [`item:${key}`], cause: 'import', ...(createdAtMs !== null && { atMs: createdAtMs }) }
  if (baseline) writer.append({ ...common, kind: 'item-baselined', body: { key, ...baseline } })
  if (rejected) writer.append({ ...common, kind: 'item-rejected', body: { key, ...rejected } })
  if (spentMinutes)
    bookTime(ctx, writer, { ...who, personId: planned.item.ownerId ?? who.personId }, key, {
      minutes: spentMinutes,
      on: new Date(createdAtMs ?? ctx.nowMs()).toISOString().slice(0, 10),
      entryId: ctx.newId(),
      provenance: 'import',
    })
  for (const { text, by, atMs } of comments) writeImportedComment(ctx, writer, who, key, { text, from: by, atMs: atMs ?? createdAtMs })
}

/** An item that a row became, and what of it comes once all rows are in. */
export interface Fresh {
  row: number
  key: string
  updatedAtMs: number | null
  attachments: readonly string[]
}

/** Says when items were changed last where they come from. */
export function dateItems(writer: JournalWriter, who: Who, items: readonly Fresh[]): void {
  for (const { key, updatedAtMs } of items)
    if (updatedAtMs !== null)
      writer.append({ kind: 'item-dated', actor: who.actor, subjects: [`item:${key}`], cause: 'import', body: { key, updatedAtMs } })
}

/**
 * Fetches the files of an item from their addresses and attaches them; gives how many. One that cannot be had is told with its reason, and
 * its address stays as a comment, so that nothing of the row is lost. A trial asks nobody.
 */
export async function attach(
  ctx: ServiceContext,
  who: Who,
  { row, key, attachments }: Fresh,
  { isTrial, column, note }: { isTrial: boolean; column: string | null; note: (problems: ImportProblem[]) => void },
): Promise<number> {
  if (isTrial) return attachments.length
  let count = 0
  for (const address of attachments) {
    try {
      const { body, name } = await fetchOpen(address, { allowedHosts: ctx.config.allowedHosts })
      await addAttachment(ctx, who, key, { name, request: body })
      count++
    } catch (error) {
      if (!(error instanceof OutsideError || error instanceof Problem)) throw error
      note([{ row, column, code: 'not-fetched', value: `${address}: ${error.message}`.slice(0, 200) }])
      const text = `This file could not be fetched (${error.message}): <${address}>`
      ctx.journal.write((writer) => writeImportedComment(ctx, writer, who, key, { text, from: null, atMs: null }))
    }
  }
  return count
}

/** Makes a tie of a row, or says why not; with no writer it is only looked at. Gives whether it is made. */
export function makeTie(
  ctx: ServiceContext,
  writer: JournalWriter | null,
  who: Who,
  { row, key, kind, to }: Tie,
  { keyById, column, note }: { keyById: ReadonlyMap<string, string>; column: string | null; note: (problems: ImportProblem[]) => void },
): boolean {
  const refuse = (code: ImportProblem['code'], value = to): false => {
    note([{ row, column, code, value: value.slice(0, 200) }])
    return false
  }
  if (kind === 'requirements') return tieToRequirement(ctx, writer, who, { key, to }, () => refuse('unknown-requirement'))
  const there = keyById.get(to) ?? keyHere(ctx, who, to)
  if (there === undefined) return refuse(kind === 'parent' ? 'unknown-parent' : 'unknown-link')
  const [from, target] = kind === 'blocked by' ? [there, key] : [key, there]
  const linkKind = LINK_OF[kind]
  const loop = from === target ? [from] : writer && linkKind !== 'see-also' ? findLoop(ctx, linkKind, target, from) : null
  if (loop) return refuse('parent-loop', [from, ...(loop.length > 1 ? loop : [from])].join(' > '))
  if (writer)
    assertLink(ctx.db, writer, {
      kind: linkKind,
      from: { kind: 'item', id: from },
      to: { kind: 'item', id: target },
      provenance: 'import',
      source: null,
      statedBy: who.actor,
      actor: who.actor,
      cause: 'import',
    })
  return true
}

/** The item of a key that is here already, as far as the importer may see it. */
function keyHere(ctx: ServiceContext, who: Who, text: string): string | undefined {
  const key = currentKey(ctx.db, text.toUpperCase())
  return getItem(ctx.db, key) && maySee(ctx.db, who, key) ? key : undefined
}

const LINK_OF = { parent: 'parent', blocks: 'blocks', 'blocked by': 'blocks', 'same as': 'same-as', 'see also': 'see-also' } as const

function tieToRequirement(
  ctx: ServiceContext,
  writer: JournalWriter | null,
  who: Who,
  { key, to }: { key: string; to: string },
  onUnknown: () => false,
): boolean {
  const requirement = to.toUpperCase()
  try {
    requireRequirement(ctx, requirement)
    if (writer) tieRequirement(ctx, writer, { key, type: getItem(ctx.db, key)?.type ?? 'task', requirement, actor: who.actor })
    return true
  } catch (error) {
    if (error instanceof Problem) return onUnknown()
    throw error
  }
}
