import type { ReviewsEvents } from '@dystracer/core/reviews/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of reviews stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const reviewsAppliers: Appliers<ReviewsEvents> = {
  'review-asked': (db, { body, actor, atMs }) => {
    const { repository, number, personId, isOn } = body
    if (isOn)
      sql(
        db,
        `INSERT INTO review_ask (repository, number, person_id, by, at_ms) VALUES (@repository, @number, @personId, @by, @atMs)
          ON CONFLICT (repository, number, person_id) DO UPDATE SET by = excluded.by, at_ms = excluded.at_ms`,
      ).run({ repository, number, personId, by: actor, atMs })
    else
      sql(db, 'DELETE FROM review_ask WHERE repository = @repository AND number = @number AND person_id = @personId').run({
        repository,
        number,
        personId,
      })
  },
  'review-given': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO verdict (review_id, repository, number, person_id, verdict, words, head_sha, patches, at_ms)
        VALUES (@reviewId, @repository, @number, @personId, @verdict, @words, @headSha, @patches, @atMs)`,
    ).run({ ...body, patches: JSON.stringify(body.patches), atMs })
  },
  'remark-made': (db, { body, atMs }) => {
    const { place, ...remark } = body
    sql(
      db,
      `INSERT INTO remark (remark_id, repository, number, reply_to, person_id, path, line, last_line, side, sha, text, instead, at_ms)
        VALUES (@remarkId, @repository, @number, @replyTo, @personId, @path, @line, @lastLine, @side, @sha, @text, @instead, @atMs)`,
    ).run({
      ...remark,
      path: place?.path ?? null,
      line: place?.line ?? null,
      lastLine: place?.lastLine ?? null,
      side: place?.side ?? null,
      sha: place?.sha ?? null,
      instead: remark.instead ?? null,
      atMs,
    })
  },
  'remark-settled': (db, { body, actor, atMs }) => {
    sql(db, 'UPDATE remark SET settled_by = @by, settled_at_ms = @atMs WHERE remark_id = @remarkId').run({
      remarkId: body.remarkId,
      by: body.isSettled ? actor : null,
      atMs: body.isSettled ? atMs : null,
    })
  },
  'commit-remarked': (db, { body, atMs }) => {
    const { place, ...rest } = body
    sql(
      db,
      `INSERT INTO commit_remark (remark_id, repository, sha, person_id, at_ms, text, path, side, line, last_line, reply_to)
        VALUES (@remarkId, @repository, @sha, @personId, @atMs, @text, @path, @side, @line, @lastLine, @replyTo)`,
    ).run({
      ...rest,
      atMs,
      path: place?.path ?? null,
      side: place?.side ?? null,
      line: place?.line ?? null,
      lastLine: place?.lastLine ?? null,
    })
  },
  'commit-remark-settled': (db, { body, actor, atMs }) => {
    sql(db, 'UPDATE commit_remark SET settled_by = @by, settled_at_ms = @atMs WHERE remark_id = @remarkId').run({
      remarkId: body.remarkId,
      by: body.isSettled ? actor : null,
      atMs: body.isSettled ? atMs : null,
    })
  },
  'remark-reacted': (db, { body, actor }) => {
    const { remarkId, reaction, isOn } = body
    const bind = { remarkId, reaction, personId: actor.replace(/^person:/, '') }
    if (isOn)
      sql(db, 'INSERT OR IGNORE INTO remark_reaction (remark_id, person_id, reaction) VALUES (@remarkId, @personId, @reaction)').run(bind)
    else sql(db, 'DELETE FROM remark_reaction WHERE remark_id = @remarkId AND person_id = @personId AND reaction = @reaction').run(bind)
  },
  'merge-wanted': (db, { body, actor, atMs }) => {
    const { repository, number, method } = body
    if (method === null) sql(db, 'DELETE FROM merge_wish WHERE repository = @repository AND number = @number').run({ repository, number })
    else
      sql(
        db,
        'INSERT OR REPLACE INTO merge_wish (repository, number, by, method, at_ms) VALUES (@repository, @number, @by, @method, @atMs)',
      ).run({ repository, number, by: actor, method, atMs })
  },
  'merge-tried': (db, { body: { on, headSha, ahead, ...body }, atMs }) => {
    sql(
      db,
      `INSERT OR REPLACE INTO merge_trial (repository, number, on_sha, head_sha, sha, branch, method, ahead, at_ms)
        VALUES (@repository, @number, @on, @headSha, @sha, @branch, @method, @ahead, @atMs)`,
    ).run({ ...body, on, headSha, ahead: JSON.stringify(ahead), atMs })
  },
  'merge-trial-ended': (db, { body: { repository, number } }) => {
    sql(db, 'DELETE FROM merge_trial WHERE repository = @repository AND number = @number').run({ repository, number })
  },
  // It stands in the journal alone: what was passed over is told where the merge is told.
  'gates-passed-over': () => {},
  'merge-gates-set': (db, { body }) => {
    const { repository, branches = '*', isDropped = false, ...gates } = body
    if (isDropped)
      sql(db, 'DELETE FROM merge_gate_rule WHERE repository = @repository AND branches = @branches').run({ repository, branches })
    else
      sql(db, 'INSERT OR REPLACE INTO merge_gate_rule (repository, branches, gates) VALUES (@repository, @branches, @gates)').run({
        repository,
        branches,
        gates: JSON.stringify(gates),
      })
  },
}
