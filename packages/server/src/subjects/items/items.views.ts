import { parseNodeRef } from '@dystracer/core/basics/node-ref'
import type { Item } from '@dystracer/core/items/wire'
import type { HistoryEntry } from '@dystracer/core/records/wire'
import type { JournalEntry } from '@dystracer/core/contract/events'
import type { ServiceContext } from '#platform/context'
import { decodeCursor, pageOf } from '#platform/db/cursor'
import type { Db } from '#platform/db/open'
import { listEntriesOfSubject } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import { canUndo, maySee, maySeeEntry, onlyVisible, readLinks, requireItem, toItem } from '#subjects/records/index'

/** An item with all that hangs on it; sub-items and links that the asker may not see are left out. */
export function readItem(ctx: ServiceContext, who: Who, key: string): Item {
  const links = readLinks(ctx.db, { kind: 'item', id: key }).filter((link) =>
    [link.from, link.to].every((end) => end.kind !== 'item' || maySee(ctx.db, who, end.id)),
  )
  const item = toItem(ctx.db, requireItem(ctx, key), links)
  return {
    ...item,
    children: onlyVisible(ctx.db, who, item.children),
    blockedBy: item.blockedBy.filter((blocker) => maySee(ctx.db, who, blocker)),
  }
}
/** What happened to one thing, newest first. */
export function readHistory(
  db: Db,
  who: Who,
  subject: string,
  input: { cursor?: string | undefined; limit: number },
): { rows: HistoryEntry[]; nextCursor: string | null } {
  const before = decodeCursor(input.cursor, 1)?.[0]
  const entries = listEntriesOfSubject(db, subject, before === undefined ? Number.MAX_SAFE_INTEGER : Number(before), input.limit + 1)
    // What ties it to something that the asker may not see is not told.
    .filter((entry) => maySeeEntry(db, who, entry))
  return pageOf(
    entries,
    input.limit,
    (entry) => ({ ...toHistory(entry), canUndo: canUndo(who, entry) }),
    (entry) => [entry.seq],
  )
}
/** What is kept of the large fields of an event for a history: which thing it was, not all of it. */
const LIGHT: Readonly<Partial<Record<JournalEntry['kind'], Readonly<Record<string, readonly string[]>>>>> = {
  'requirement-described': { origin: ['document', 'object'] },
  'requirement-document-kept': { document: ['id', 'title'] },
  'requirement-picture-kept': { content: [] },
}

function light(kind: JournalEntry['kind'], facts: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(facts).map(([name, value]) => {
      const kept = LIGHT[kind]?.[name]
      if (kept === undefined) return [name, value]
      const fields = typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : {}
      return [name, Object.fromEntries(kept.map((field) => [field, fields[field]]))]
    }),
  )
}

export function toHistory(entry: JournalEntry): HistoryEntry {
  const { ladder, results, ...facts } = entry.body as unknown as Record<string, unknown> & {
    ladder?: { stage: string; hasComeBack: boolean }
    results?: unknown[]
  }
  return {
    seq: entry.seq,
    kind: entry.kind,
    atMs: entry.atMs,
    by: entry.actor,
    cause: entry.cause,
    source: entry.source ? parseNodeRef(entry.source) : null,
    facts: {
      ...light(entry.kind, facts),
      ...(ladder && { to: ladder.stage, hasComeBack: ladder.hasComeBack }),
      ...(results && { results: results.length }),
    },
  }
}
