import type { CodeEvents } from '@dystracer/core/code/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of code stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const codeAppliers: Appliers<CodeEvents> = {
  'repository-added': (db, entry) => {
    sql(
      db,
      `INSERT INTO repository (name, url, main_branch) VALUES (@name, @url, @mainBranch)
        ON CONFLICT (name) DO UPDATE SET url = excluded.url, main_branch = excluded.main_branch, disconnected_at_ms = NULL`,
    ).run(entry.body)
  },
  'repository-disconnected': (db, entry) => {
    sql(db, 'UPDATE repository SET disconnected_at_ms = @atMs WHERE name = @name').run({ name: entry.body.name, atMs: entry.atMs })
  },
  'main-lines-chosen': (db, entry) => {
    const { name, mainBranch, longLines } = entry.body
    sql(db, 'UPDATE repository SET main_branch = @mainBranch, long_lines = @longLines WHERE name = @name').run({
      name,
      mainBranch,
      longLines: JSON.stringify(longLines),
    })
  },
  'refs-moved': (db, entry) => {
    applyRefs(db, entry.body, entry.atMs)
  },
  'pull-request-seen': (db, entry) => {
    // The newest version wins whatever the order of arrival.
    sql(
      db,
      `INSERT INTO pull_request (repository, number, title, body, state, author, head, base, head_sha, merge_sha,
        created_at_ms, updated_at_ms, version, is_ours, base_sha, is_draft)
        VALUES (@repository, @number, @title, @body, @state, @author, @head, @base, @headSha, @mergeSha, @createdAtMs,
          @updatedAtMs, @version, @isOurs, @baseSha, @isDraft)
        ON CONFLICT (repository, number) DO UPDATE SET title = excluded.title, body = excluded.body,
          state = excluded.state, head_sha = excluded.head_sha, merge_sha = excluded.merge_sha,
          updated_at_ms = excluded.updated_at_ms, version = excluded.version, base_sha = excluded.base_sha,
          base = excluded.base, is_draft = excluded.is_draft
            WHERE excluded.version >= pull_request.version`,
    ).run({ ...entry.body, isOurs: entry.body.isOurs ? 1 : 0, baseSha: entry.body.baseSha ?? null, isDraft: entry.body.isDraft ? 1 : 0 })
  },
}

function applyRefs(db: Db, body: CodeEvents['refs-moved'], atMs: number): void {
  for (const move of body.moves) {
    const bind = { repository: body.repository, ref: move.ref, sha: move.to, atMs, forcedAtMs: move.isForced ? atMs : null }
    if (move.to === null) {
      sql(db, 'UPDATE git_ref SET deleted_at_ms = @atMs, moved_at_ms = @atMs WHERE repository = @repository AND ref = @ref').run({
        repository: bind.repository,
        ref: bind.ref,
        atMs,
      })
      continue
    }
    sql(
      db,
      `INSERT INTO git_ref (repository, ref, sha, first_seen_at_ms, moved_at_ms, forced_at_ms, deleted_at_ms)
        VALUES (@repository, @ref, @sha, @atMs, @atMs, @forcedAtMs, NULL)
      ON CONFLICT (repository, ref) DO UPDATE SET sha = excluded.sha, moved_at_ms = excluded.moved_at_ms,
        forced_at_ms = coalesce(excluded.forced_at_ms, git_ref.forced_at_ms), deleted_at_ms = NULL`,
    ).run(bind)
  }
}
