import { hash } from 'node:crypto'
import { formatNodeRef, type NodeRef } from '@dystracer/core/basics/node-ref'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'

interface LinkEnds {
  kind: string
  from: NodeRef
  to: NodeRef
}

/** The identity of a link: its kind and both ends. */
export function linkIdOf(link: LinkEnds): string {
  return hash('sha1', `${link.kind}\n${formatNodeRef(link.from)}\n${formatNodeRef(link.to)}`, 'base64url')
}

/** The identity of one statement of a link: who or what says it, and how. */
export function assertionIdOf(link: LinkEnds & { source: string | null; provenance: string; actor: string }): string {
  return hash('sha1', `${linkIdOf(link)}\n${link.source ?? link.actor}\n${link.provenance}`, 'base64url')
}

interface AssertionEnds {
  assertion_id: string
  kind: string
  from_kind: NodeRef['kind']
  from_id: string
  to_kind: NodeRef['kind']
  to_id: string
  provenance: string
  source: string | null
  stated_by: string | null
}

/** Makes the identities of an item's links anew after its key changed, so that the same source states the same link as before. */
export function renewLinkIds(db: Db, key: string): void {
  const rows = sql<object, AssertionEnds>(
    db,
    `SELECT assertion_id, kind, from_kind, from_id, to_kind, to_id, provenance, source, stated_by FROM link_assertion WHERE from_kind = 'item' AND from_id = @key
    UNION SELECT assertion_id, kind, from_kind, from_id, to_kind, to_id, provenance, source, stated_by FROM link_assertion WHERE to_kind = 'item' AND to_id = @key ORDER BY assertion_id`,
  ).all({ key })
  for (const row of rows) {
    const ends = { kind: row.kind, from: { kind: row.from_kind, id: row.from_id }, to: { kind: row.to_kind, id: row.to_id } }
    const assertionId = assertionIdOf({ ...ends, provenance: row.provenance, source: row.source, actor: row.stated_by ?? '' })
    sql(db, 'UPDATE OR REPLACE link_assertion SET assertion_id = @assertionId, link_id = @linkId WHERE assertion_id = @old').run({
      assertionId,
      linkId: linkIdOf(ends),
      old: row.assertion_id,
    })
  }
}
