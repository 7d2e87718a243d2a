import type { Attributes } from '@dystracer/core/requirements/attributes'
import type { RequirementsEvents } from '@dystracer/core/requirements/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of requirements stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const requirementsAppliers: Appliers<RequirementsEvents> = {
  'requirement-written': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO requirement (key, title, text, parent, is_heading, revision, position)
        VALUES (@key, @title, @text, @parent, @isHeading, @revision, @position)
        ON CONFLICT (key) DO UPDATE SET title = excluded.title, text = excluded.text, parent = excluded.parent,
          is_heading = excluded.is_heading, revision = excluded.revision`,
    ).run({ ...body, isHeading: Number(body.isHeading) })
    sql(
      db,
      `INSERT INTO requirement_revision (key, revision, title, text, at_ms, by, because, is_minor)
        VALUES (@key, @revision, @title, @text, @atMs, @by, @because, @isMinor)`,
    ).run({
      key: body.key,
      revision: body.revision,
      title: body.title,
      text: body.text,
      atMs: entry.atMs,
      by: entry.actor,
      because: body.because ?? '',
      isMinor: Number(body.isMinor ?? false),
    })
    if (body.isMinor)
      sql(
        db,
        `UPDATE link_assertion SET target_revision = @revision
          WHERE to_kind = 'requirement' AND to_id = @key AND target_revision = @revision - 1 AND retracted_at_ms IS NULL`,
      ).run({ key: body.key, revision: body.revision })
  },
  'links-confirmed': (db, { body }) => {
    sql(
      db,
      `UPDATE link_assertion SET target_revision = @revision WHERE to_kind = 'requirement' AND to_id = @key AND retracted_at_ms IS NULL
        AND link_id IN (SELECT value FROM json_each(@linkIds))`,
    ).run({ ...body, linkIds: JSON.stringify(body.linkIds) })
  },
  'baseline-made': (db, { body, actor, atMs }) => {
    const { snapshot, ...rest } = body
    sql(
      db,
      `INSERT INTO baseline (project, baseline_id, name, words, hash, at_ms, by, snapshot)
        VALUES (@project, @baselineId, @name, @words, @hash, @atMs, @by, @snapshot)`,
    ).run({ ...rest, atMs, by: actor, snapshot: JSON.stringify(snapshot) })
  },
  'baseline-agreed': (db, { body, atMs }) => {
    const { baselineId, personId } = body
    sql(db, 'INSERT OR IGNORE INTO baseline_agreement (baseline_id, person_id, at_ms) VALUES (@baselineId, @personId, @atMs)').run({
      baselineId,
      personId,
      atMs,
    })
  },
  'baseline-withdrawn': (db, { body }) => {
    const { baselineId, words } = body
    sql(db, 'UPDATE baseline SET withdrawn_words = @words WHERE baseline_id = @baselineId').run({ baselineId, words })
  },
  'gap-agreed': (db, { body, actor }) => {
    sql(
      db,
      `INSERT INTO agreed_gap (project, code, id, reason, until_day, by) VALUES (@project, @code, @id, @reason, @until, @by)
      ON CONFLICT (project, code, id) DO UPDATE SET reason = excluded.reason, until_day = excluded.until_day, by = excluded.by`,
    ).run({ ...body, by: actor })
  },
  'gap-reopened': (db, { body }) => {
    sql(db, 'DELETE FROM agreed_gap WHERE project = @project AND code = @code AND id = @id').run(body)
  },
  'requirement-placed': (db, entry) => {
    const { key, parent, order } = entry.body
    sql(db, 'UPDATE requirement SET parent = @parent WHERE key = @key').run({ key, parent })
    // Those that stand together share out the positions that they have, in their new order.
    const positions = sql(db, 'SELECT position FROM requirement WHERE key IN (SELECT value FROM json_each(@keys)) ORDER BY position, key')
      .all<{ position: number }>({ keys: JSON.stringify(order) })
      .map((row) => row.position)
    let last = Number.NEGATIVE_INFINITY
    for (const [at, one] of order.entries()) {
      last = Math.max(positions[at] ?? 0, last + 1)
      sql(db, 'UPDATE requirement SET position = @position WHERE key = @key').run({ key: one, position: last })
    }
  },
  'requirement-described': (db, { body }) => {
    const row = sql(db, 'SELECT attributes FROM requirement WHERE key = @key').get<{ attributes: string }>({ key: body.key })
    const attributes = { ...(JSON.parse(row?.attributes ?? '{}') as Attributes), ...body.attributes }
    const held = Object.fromEntries(Object.entries(attributes).filter(([, value]) => value.length > 0))
    sql(db, 'UPDATE requirement SET attributes = @attributes WHERE key = @key').run({ key: body.key, attributes: JSON.stringify(held) })
    if (body.origin)
      sql(
        db,
        `INSERT INTO requirement_origin (key, document, object, origin) VALUES (@key, @document, @object, @origin)
          ON CONFLICT (key) DO UPDATE SET document = excluded.document, object = excluded.object, origin = excluded.origin`,
      ).run({ key: body.key, document: body.origin.document, object: body.origin.object, origin: JSON.stringify(body.origin) })
  },
  'requirement-attributes-defined': (db, { body }) => {
    sql(
      db,
      `INSERT INTO requirement_attributes (project, attributes) VALUES (@project, @attributes)
        ON CONFLICT (project) DO UPDATE SET attributes = excluded.attributes`,
    ).run({ project: body.project, attributes: JSON.stringify(body.attributes) })
  },
  'writing-accepted': (db, { body, atMs, actor }) => {
    const { key, code, words, reason } = body
    if (reason === null)
      sql(db, 'DELETE FROM writing_accepted WHERE key = @key AND code = @code AND words = @words').run({ key, code, words })
    else
      sql(
        db,
        `INSERT INTO writing_accepted (key, code, words, reason, by, at_ms) VALUES (@key, @code, @words, @reason, @by, @atMs)
          ON CONFLICT (key, code, words) DO UPDATE SET reason = excluded.reason, by = excluded.by, at_ms = excluded.at_ms`,
      ).run({ key, code, words, reason, by: actor, atMs })
  },
  'requirement-document-kept': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO requirement_document (project, document_id, kept, at_ms) VALUES (@project, @documentId, @kept, @atMs)
        ON CONFLICT (project, document_id) DO UPDATE SET kept = excluded.kept, at_ms = excluded.at_ms`,
    ).run({ project: body.project, documentId: body.document.id, kept: JSON.stringify(body.document), atMs })
  },
  'requirements-related': (db, { body, atMs, actor }) => {
    sql(
      db,
      `INSERT INTO requirement_relation (project, relation_id, name, from_key, to_key, words, at_ms, by)
        VALUES (@project, @relationId, @name, @from, @to, @words, @atMs, @by) ON CONFLICT (project, relation_id) DO NOTHING`,
    ).run({ ...body, atMs, by: actor })
  },
  'requirements-unrelated': (db, { body: { project, relationId } }) => {
    sql(db, 'DELETE FROM requirement_relation WHERE project = @project AND relation_id = @relationId').run({ project, relationId })
  },
  'requirement-picture-kept': (db, { body, atMs }) => {
    const { project, path, mediaType } = body
    sql(
      db,
      `INSERT INTO requirement_picture (project, path, media_type, content, at_ms) VALUES (@project, @path, @mediaType, @content, @atMs)
        ON CONFLICT (project, path) DO UPDATE SET media_type = excluded.media_type, content = excluded.content, at_ms = excluded.at_ms`,
    ).run({ project, path, mediaType, content: Buffer.from(body.content, 'base64'), atMs })
  },
  'requirement-retired': (db, entry) => {
    const { key, words } = entry.body
    sql(db, 'UPDATE requirement SET retired_at_ms = @atMs, retired_words = @words WHERE key = @key').run({ key, words, atMs: entry.atMs })
  },
  'requirement-restored': (db, entry) => {
    sql(db, 'UPDATE requirement SET retired_at_ms = NULL, retired_words = NULL WHERE key = @key').run(entry.body)
  },
}
