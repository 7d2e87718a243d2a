import { formatNodeRef, type NodeRef } from '@dystracer/core/basics/node-ref'
import type { Provenance } from '@dystracer/core/records/provenance'
import type { Actor } from '@dystracer/core/contract/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { JournalWriter } from '#platform/journal/journal'
import { assertionIdOf, linkIdOf } from './link-ids.js'
import {
  GET_RETRACTED_AT_MS_OF_LINK_ASSERTION_BY_ASSERTION_ID,
  GET_REVISION_OF_REQUIREMENT_BY_KEY,
  HAS_LINK_VETO_BY_LINK_ID_AND_SOURCE,
  LIST_LINK_ASSERTION_BY_KIND_AND_ID,
  LIST_LINK_ASSERTION_BY_SOURCE,
  LIST_LINK_ASSERTION_FOR_ITEMS_TIED_TO,
  LIST_REQUIREMENT_OF_ITEMS,
} from './link-assertions.queries.js'

export interface Assertion {
  kind: string
  from: NodeRef
  to: NodeRef
  provenance: Provenance
  /** The thing that says so (a commit, a pull request), as `kind:id`; null for a person's own act. */
  source: string | null
  statedBy: string | null
  actor: Actor
  atMs?: number
  cause?: string
  targetRevision?: number | null
}
/**
 * States a link, unless the same source states it already or a person's untie forbids re-deriving it from there (docs/rules.md#links). True
 * when something was written.
 */
export function assertLink(db: Db, writer: JournalWriter, link: Assertion): boolean {
  const linkId = linkIdOf(link)
  const assertionId = assertionIdOf(link)
  const known = sql(db, GET_RETRACTED_AT_MS_OF_LINK_ASSERTION_BY_ASSERTION_ID).get<{ retracted_at_ms: number | null }>({
    assertionId,
  })
  if (known && known.retracted_at_ms === null) return false
  if (link.source && sql(db, HAS_LINK_VETO_BY_LINK_ID_AND_SOURCE).get({ linkId, source: link.source })) return false
  writer.append({
    kind: 'link-asserted',
    actor: link.actor,
    subjects: [formatNodeRef(link.from), formatNodeRef(link.to)],
    ...(link.atMs !== undefined && { atMs: link.atMs }),
    ...(link.cause && { cause: link.cause }),
    ...(link.source && { source: link.source }),
    body: {
      assertionId,
      linkId,
      kind: link.kind,
      from: link.from,
      to: link.to,
      provenance: link.provenance,
      source: link.source,
      statedBy: link.statedBy,
      targetRevision: link.targetRevision ?? null,
    },
  })
  return true
}
export interface AssertionRow {
  assertion_id: string
  link_id: string
  kind: string
  from_kind: NodeRef['kind']
  from_id: string
  to_kind: NodeRef['kind']
  to_id: string
  provenance: Provenance
  source: string | null
  stated_by: string | null
  at_ms: number
  target_revision: number | null
}
/** Standing assertions from or to one thing, oldest first. */
export function listAssertions(db: Db, ref: NodeRef): AssertionRow[] {
  return sql(db, LIST_LINK_ASSERTION_BY_KIND_AND_ID).all<AssertionRow>(ref)
}
/** Keys of the items that hold a standing link to a thing. */
export function itemsTiedTo(db: Db, ref: NodeRef): string[] {
  return [
    ...new Set(
      sql(db, LIST_LINK_ASSERTION_FOR_ITEMS_TIED_TO)
        .all<{ from_id: string }>(ref)
        .map((row) => row.from_id),
    ),
  ]
}
/** The requirements that each of some items is tied to, in any way; items without one are not in it. */
export function requirementsOfItems(db: Db, keys: readonly string[]): Map<string, string[]> {
  const requirements = new Map<string, string[]>()
  for (const { key, requirement } of sql(db, LIST_REQUIREMENT_OF_ITEMS).all<{ key: string; requirement: string }>({
    keys: JSON.stringify(keys),
  })) {
    const known = requirements.get(key)
    if (known) known.push(requirement)
    else requirements.set(key, [requirement])
  }
  return requirements
}
/**
 * Brings what one source says up to date: asserts what is new, retracts what it no longer says, leaves the rest. Used for texts that can be
 * edited (pull requests).
 */
export function replaceAssertionsOf(
  db: Db,
  writer: JournalWriter,
  source: string,
  links: readonly Assertion[],
  actor: Actor,
  atMs?: number,
): void {
  const wanted = new Set(links.map(assertionIdOf))
  for (const row of sql(db, LIST_LINK_ASSERTION_BY_SOURCE).all<AssertionRow>({ source })) {
    if (!wanted.has(row.assertion_id)) retractAssertion(writer, row, actor, { atMs })
  }
  for (const link of links) assertLink(db, writer, link)
}
export function retractAssertion(
  writer: JournalWriter,
  row: AssertionRow,
  actor: Actor,
  { atMs, cause }: { atMs?: number | undefined; cause?: string } = {},
): void {
  const from = { kind: row.from_kind, id: row.from_id }
  const to = { kind: row.to_kind, id: row.to_id }
  writer.append({
    kind: 'link-retracted',
    actor,
    subjects: [formatNodeRef(from), formatNodeRef(to)],
    ...(atMs !== undefined && { atMs }),
    ...(cause !== undefined && { cause }),
    ...(row.source && { source: row.source }),
    body: { assertionId: row.assertion_id, linkId: row.link_id, from, to, kind: row.kind },
  })
}
/** A link to a requirement is suspect once its text has moved on from the revision that it was made to. */
export function isSuspect(db: Db, row: Pick<AssertionRow, 'to_kind' | 'to_id' | 'target_revision'>): boolean {
  if (row.to_kind !== 'requirement' || row.target_revision === null) return false
  const revision = sql(db, GET_REVISION_OF_REQUIREMENT_BY_KEY).get<{ revision: number }>({ key: row.to_id })?.revision
  return revision !== undefined && revision > row.target_revision
}
