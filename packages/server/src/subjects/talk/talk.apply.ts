import type { TalkEvents } from '@dystracer/core/talk/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'
import { touchItem } from '#subjects/records/index'

/** How the events of talk stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const talkAppliers: Appliers<TalkEvents> = {
  'comment-added': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO comment (comment_id, item_key, by, at_ms, text, reply_to, from_address)
        VALUES (@commentId, @key, @by, @atMs, @text, @replyTo, @from)`,
    ).run({
      ...body,
      replyTo: body.replyTo ?? null,
      from: body.from ?? null,
      by: entry.actor,
      atMs: entry.atMs,
    })
    indexComment(db, body.commentId)
    touchItem(db, body.key, entry.atMs)
  },
  'comment-edited': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO comment_revision (comment_id, revision, text, at_ms)
        VALUES (@commentId, (SELECT count(*) + 1 FROM comment_revision WHERE comment_id = @commentId), @before,
          (SELECT coalesce(edited_at_ms, at_ms) FROM comment WHERE comment_id = @commentId))`,
    ).run({ commentId: body.commentId, before: body.before })
    sql(db, 'UPDATE comment SET text = @text, edited_at_ms = @atMs WHERE comment_id = @commentId').run({
      commentId: body.commentId,
      text: body.text,
      atMs: entry.atMs,
    })
    indexComment(db, body.commentId)
    touchItem(db, body.key, entry.atMs)
  },
  'comment-reacted': (db, entry) => {
    const { commentId, reaction, isOn } = entry.body
    const bind = { commentId, reaction, personId: entry.actor.replace(/^person:/, '') }
    if (isOn)
      sql(db, 'INSERT OR IGNORE INTO comment_reaction (comment_id, person_id, reaction) VALUES (@commentId, @personId, @reaction)').run(
        bind,
      )
    else sql(db, 'DELETE FROM comment_reaction WHERE comment_id = @commentId AND person_id = @personId AND reaction = @reaction').run(bind)
  },
  'attachment-added': (db, entry) => {
    const body = entry.body
    sql(
      db,
      `INSERT INTO attachment (attachment_id, item_key, name, media_type, size_bytes, sha256, has_thumbnail, by, at_ms)
        VALUES (@attachmentId, @key, @name, @mediaType, @sizeBytes, @sha256, @hasThumbnail, @by, @atMs)`,
    ).run({ ...body, hasThumbnail: Number(body.hasThumbnail), by: entry.actor, atMs: entry.atMs })
    touchItem(db, body.key, entry.atMs)
  },
  'picture-kept': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO kept_picture (picture_id, project, name, media_type, size_bytes, sha256, by, at_ms)
        VALUES (@pictureId, @project, @name, @mediaType, @sizeBytes, @sha256, @by, @atMs)`,
    ).run({ ...body, by: actor, atMs })
  },
  'attachment-removed': (db, entry) => {
    const { attachmentId, key } = entry.body
    sql(db, 'UPDATE attachment SET removed_at_ms = @atMs WHERE attachment_id = @attachmentId').run({ attachmentId, atMs: entry.atMs })
    touchItem(db, key, entry.atMs)
  },
  'time-booked': (db, entry) => {
    sql(
      db,
      `INSERT INTO time_entry (entry_id, item_key, person_id, minutes, on_day, provenance, at_ms)
        VALUES (@entryId, @key, @personId, @minutes, @onDay, @provenance, @atMs)`,
    ).run({ ...entry.body, atMs: entry.atMs })
    touchItem(db, entry.body.key, entry.atMs)
  },
  'time-taken-back': (db, entry) => {
    sql(db, 'UPDATE time_entry SET taken_back_at_ms = @atMs WHERE entry_id = @entryId').run({
      entryId: entry.body.entryId,
      atMs: entry.atMs,
    })
    touchItem(db, entry.body.key, entry.atMs)
  },
}

/**
 * The search index follows the text; it is a cache, so `verify` does not compare it. A comment's row number is its item's, moved up by
 * twenty bits, and its own below.
 */
function indexComment(db: Db, commentId: string): void {
  sql(
    db,
    `INSERT INTO comment_search_row (rowid, comment_id)
    SELECT coalesce((SELECT max(s.rowid) FROM comment_search_row s
      WHERE s.rowid >= r.rowid << 20 AND s.rowid < (r.rowid + 1) << 20), r.rowid << 20) + 1, c.comment_id
    FROM comment c JOIN item_search_row r ON r.key = c.item_key WHERE c.comment_id = @commentId ON CONFLICT (comment_id) DO NOTHING`,
  ).run({ commentId })
  sql(db, 'DELETE FROM comment_search WHERE rowid = (SELECT rowid FROM comment_search_row WHERE comment_id = @commentId)').run({
    commentId,
  })
  sql(
    db,
    `INSERT INTO comment_search (rowid, text) SELECT r.rowid, c.text FROM comment_search_row r
      JOIN comment c ON c.comment_id = r.comment_id WHERE r.comment_id = @commentId`,
  ).run({ commentId })
}
