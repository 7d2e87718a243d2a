import { hash } from 'node:crypto'
import { formatNodeRef, type NodeRef } from '@dystracer/core/basics/node-ref'
import { sql } from '#platform/db/statements'
import type { Db } from '#platform/db/open'
import { LIST_LINK_ASSERTION_BY_KEY, UPDATE_LINK_ASSERTION_ASSERTION_ID_AND_LINK_ID } from './records.queries.js'

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
  const rows = sql(db, LIST_LINK_ASSERTION_BY_KEY).all<AssertionEnds>({ key })
  for (const row of rows) {
    const ends = { kind: row.kind, from: { kind: row.from_kind, id: row.from_id }, to: { kind: row.to_kind, id: row.to_id } }
    const assertionId = assertionIdOf({ ...ends, provenance: row.provenance, source: row.source, actor: row.stated_by ?? '' })
    sql(db, UPDATE_LINK_ASSERTION_ASSERTION_ID_AND_LINK_ID).run({
      assertionId,
      linkId: linkIdOf(ends),
      old: row.assertion_id,
    })
  }
}
