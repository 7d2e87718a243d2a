import type { RecordsEvents } from '@dystracer/core/records/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of records stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const recordsAppliers: Appliers<RecordsEvents> = {
  'link-asserted': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO link_assertion (assertion_id, link_id, kind, from_kind, from_id, to_kind, to_id, provenance,
        source, stated_by, at_ms, target_revision, retracted_at_ms)
        VALUES (@assertionId, @linkId, @kind, @fromKind, @fromId, @toKind, @toId, @provenance, @source, @statedBy,
          @atMs, @targetRevision, NULL)
        ON CONFLICT (assertion_id) DO UPDATE SET retracted_at_ms = NULL, at_ms = excluded.at_ms,
          target_revision = excluded.target_revision`,
    ).run({
      assertionId: body.assertionId,
      linkId: body.linkId,
      kind: body.kind,
      fromKind: body.from.kind,
      fromId: body.from.id,
      toKind: body.to.kind,
      toId: body.to.id,
      provenance: body.provenance,
      source: body.source,
      statedBy: body.statedBy,
      atMs: entry.atMs,
      targetRevision: body.targetRevision,
    })
  },
  'link-retracted': (db, entry) => {
    sql(db, 'UPDATE link_assertion SET retracted_at_ms = @atMs WHERE assertion_id = @assertionId').run({
      assertionId: entry.body.assertionId,
      atMs: entry.atMs,
    })
  },
  'link-vetoed': (db, entry) => {
    sql(db, 'INSERT OR IGNORE INTO link_veto (link_id, source) VALUES (@linkId, @source)').run(entry.body)
  },
}
