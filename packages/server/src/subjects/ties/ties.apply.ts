import type { TiesEvents } from '@dystracer/core/ties/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of ties stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const tiesAppliers: Appliers<TiesEvents> = {
  'commit-excused': (db, { body: { repository, sha, needsNone }, actor, atMs }) => {
    if (needsNone)
      sql(db, 'INSERT OR REPLACE INTO commit_excuse (repository, sha, by, at_ms) VALUES (@repository, @sha, @by, @atMs)').run({
        repository,
        sha,
        by: actor,
        atMs,
      })
    else sql(db, 'DELETE FROM commit_excuse WHERE repository = @repository AND sha = @sha').run({ repository, sha })
  },
  'tie-decided': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT OR REPLACE INTO tie_decision (repository, sha, item_key, is_right, facts, at_ms)
        VALUES (@repository, @sha, @key, @isRight, @facts, @atMs)`,
    ).run({ ...body, isRight: body.isRight ? 1 : 0, facts: body.facts === null ? null : JSON.stringify(body.facts), atMs })
  },
}
