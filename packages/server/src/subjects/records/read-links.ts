import { parseNodeRef, type NodeRef } from '@dystracer/core/basics/node-ref'
import type { Link } from '@dystracer/core/records/wire'
import type { Db } from '#platform/db/open'
import { type AssertionRow, isSuspect, listAssertions } from './link-assertions.js'
import { titleOfNode } from './node-titles.js'

/** The standing links of a thing, each once with its first assertion. */
export function readLinks(db: Db, ref: NodeRef): Link[] {
  const byLink = new Map<string, AssertionRow>()
  for (const row of listAssertions(db, ref)) if (!byLink.has(row.link_id)) byLink.set(row.link_id, row)
  return [...byLink.values()].map((row) => {
    const from = { kind: row.from_kind, id: row.from_id }
    const to = { kind: row.to_kind, id: row.to_id }
    return {
      linkId: row.link_id,
      kind: row.kind,
      from,
      to,
      provenance: row.provenance,
      statedBy: row.stated_by,
      source: row.source ? parseNodeRef(row.source) : null,
      atMs: row.at_ms,
      isSuspect: isSuspect(db, row),
      title: titleOfNode(db, from.kind === ref.kind && from.id === ref.id ? to : from),
    }
  })
}
