import { sql } from '../db/statements.js'
import type { Db } from '../db/open.js'
import type { EventBodies, JournalEntry } from './events.js'
import { touchItem } from './touch-item.js'

/** Events of what people say and attach: comments, reactions, followers, files; and of how a project is set up for it. False when the kind is another family's. */
export function applyTalkEvent(db: Db, entry: JournalEntry): boolean {
  switch (entry.kind) {
    case 'comment-added': {
      const body = entry.body as EventBodies['comment-added']
      sql(
        db,
        'INSERT INTO comment (comment_id, item_key, by, at_ms, text, reply_to, from_address) VALUES (@commentId, @key, @by, @atMs, @text, @replyTo, @from)',
      ).run({
        ...body,
        replyTo: body.replyTo ?? null,
        from: body.from ?? null,
        by: entry.actor,
        atMs: entry.atMs,
      })
      indexComment(db, body.commentId)
      return touchItem(db, body.key, entry.atMs)
    }
    case 'comment-edited': {
      const body = entry.body as EventBodies['comment-edited']
      sql(
        db,
        `INSERT INTO comment_revision (comment_id, revision, text, at_ms)
        VALUES (@commentId, (SELECT count(*) + 1 FROM comment_revision WHERE comment_id = @commentId), @before, (SELECT coalesce(edited_at_ms, at_ms) FROM comment WHERE comment_id = @commentId))`,
      ).run({ commentId: body.commentId, before: body.before })
      sql(db, 'UPDATE comment SET text = @text, edited_at_ms = @atMs WHERE comment_id = @commentId').run({
        commentId: body.commentId,
        text: body.text,
        atMs: entry.atMs,
      })
      indexComment(db, body.commentId)
      return touchItem(db, body.key, entry.atMs)
    }
    case 'comment-reacted': {
      const { commentId, reaction, isOn } = entry.body as EventBodies['comment-reacted']
      const bind = { commentId, reaction, personId: entry.actor.replace(/^person:/, '') }
      if (isOn)
        sql(db, 'INSERT OR IGNORE INTO comment_reaction (comment_id, person_id, reaction) VALUES (@commentId, @personId, @reaction)').run(bind)
      else sql(db, 'DELETE FROM comment_reaction WHERE comment_id = @commentId AND person_id = @personId AND reaction = @reaction').run(bind)
      return true
    }
    case 'follower-changed': {
      const { key, personId, isOn } = entry.body as EventBodies['follower-changed']
      if (isOn) sql(db, 'INSERT OR IGNORE INTO follower (item_key, person_id) VALUES (@key, @personId)').run({ key, personId })
      else sql(db, 'DELETE FROM follower WHERE item_key = @key AND person_id = @personId').run({ key, personId })
      return true
    }
    case 'attachment-added': {
      const body = entry.body as EventBodies['attachment-added']
      sql(
        db,
        `INSERT INTO attachment (attachment_id, item_key, name, media_type, size_bytes, sha256, has_thumbnail, by, at_ms)
        VALUES (@attachmentId, @key, @name, @mediaType, @sizeBytes, @sha256, @hasThumbnail, @by, @atMs)`,
      ).run({ ...body, hasThumbnail: Number(body.hasThumbnail), by: entry.actor, atMs: entry.atMs })
      return touchItem(db, body.key, entry.atMs)
    }
    case 'attachment-removed': {
      const { attachmentId, key } = entry.body as EventBodies['attachment-removed']
      sql(db, 'UPDATE attachment SET removed_at_ms = @atMs WHERE attachment_id = @attachmentId').run({ attachmentId, atMs: entry.atMs })
      return touchItem(db, key, entry.atMs)
    }
    case 'type-defined': {
      const body = entry.body as EventBodies['type-defined']
      sql(
        db,
        'INSERT OR REPLACE INTO item_type (project, type, is_defect, position, fields, template) VALUES (@project, @type, @isDefect, @position, @fields, @template)',
      ).run({
        project: body.project,
        type: body.type,
        isDefect: Number(body.isDefect),
        position: body.position,
        fields: JSON.stringify(body.fields),
        template: JSON.stringify(body.template),
      })
      return true
    }
    case 'own-field-defined': {
      const body = entry.body as EventBodies['own-field-defined']
      sql(
        db,
        `INSERT OR REPLACE INTO own_field (project, field_id, name, kind, choices, types, colour, position)
        VALUES (@project, @fieldId, @name, @kind, @choices, @types, @colour, @position)`,
      ).run({ ...body, choices: JSON.stringify(body.choices), types: JSON.stringify(body.types) })
      return true
    }
    case 'stage-rule-set': {
      const { project, stage, needs } = entry.body as EventBodies['stage-rule-set']
      sql(db, 'INSERT OR REPLACE INTO stage_rule (project, stage, needs) VALUES (@project, @stage, @needs)').run({
        project,
        stage,
        needs: JSON.stringify(needs),
      })
      return true
    }
    case 'setting-changed':
      sql(db, 'INSERT OR REPLACE INTO project_setting (project, name, value) VALUES (@project, @name, @value)').run(entry.body)
      return true
    default:
      return false
  }
}

/** The search index follows the text; it is a cache, so `verify` does not compare it. A comment's row number is its item's, moved up by twenty bits, and its own below. */
function indexComment(db: Db, commentId: string): void {
  sql(
    db,
    `INSERT INTO comment_search_row (rowid, comment_id)
    SELECT coalesce((SELECT max(s.rowid) FROM comment_search_row s WHERE s.rowid >= r.rowid << 20 AND s.rowid < (r.rowid + 1) << 20), r.rowid << 20) + 1, c.comment_id
    FROM comment c JOIN item_search_row r ON r.key = c.item_key WHERE c.comment_id = @commentId ON CONFLICT (comment_id) DO NOTHING`,
  ).run({ commentId })
  sql(db, 'DELETE FROM comment_search WHERE rowid = (SELECT rowid FROM comment_search_row WHERE comment_id = @commentId)').run({ commentId })
  sql(
    db,
    'INSERT INTO comment_search (rowid, text) SELECT r.rowid, c.text FROM comment_search_row r JOIN comment c ON c.comment_id = r.comment_id WHERE r.comment_id = @commentId',
  ).run({ commentId })
}
