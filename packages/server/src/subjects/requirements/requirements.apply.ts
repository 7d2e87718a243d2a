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
  'requirement-retired': (db, entry) => {
    const { key, words } = entry.body
    sql(db, 'UPDATE requirement SET retired_at_ms = @atMs, retired_words = @words WHERE key = @key').run({ key, words, atMs: entry.atMs })
  },
  'requirement-restored': (db, entry) => {
    sql(db, 'UPDATE requirement SET retired_at_ms = NULL, retired_words = NULL WHERE key = @key').run(entry.body)
  },
}
