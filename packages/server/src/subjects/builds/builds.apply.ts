import type { BuildsEvents } from '@dystracer/core/builds/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of builds stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const buildsAppliers: Appliers<BuildsEvents> = {
  'build-started': (db, entry) => {
    sql(
      db,
      `INSERT INTO build (repository, number, sha, branch, state, started_at_ms) VALUES (@repository, @number, @sha, @branch, 'running', @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch), is_told = 1,
          started_at_ms = CASE WHEN is_told = 0 THEN excluded.started_at_ms ELSE min(started_at_ms, excluded.started_at_ms) END,
          state = CASE WHEN is_told = 0 THEN excluded.state ELSE state END, finished_at_ms = CASE WHEN is_told = 0 THEN NULL ELSE finished_at_ms END`,
    ).run({ ...entry.body, atMs: entry.atMs })
  },
  'build-finished': (db, entry) => {
    sql(
      db,
      `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms) VALUES (@repository, @number, @sha, @branch, @state, @startedAtMs, @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch), is_told = 1,
          started_at_ms = CASE WHEN is_told = 0 THEN excluded.started_at_ms ELSE min(started_at_ms, excluded.started_at_ms) END,
          state = CASE WHEN is_told = 0 OR excluded.finished_at_ms >= coalesce(finished_at_ms, 0) THEN excluded.state ELSE state END, 
          finished_at_ms = CASE WHEN is_told = 0 THEN excluded.finished_at_ms ELSE max(coalesce(finished_at_ms, 0), excluded.finished_at_ms) END`,
    ).run({ ...entry.body, atMs: entry.atMs })
  },
  'tests-reported': (db, entry) => {
    applyTests(db, entry.body, entry.atMs)
  },
}

/**
 * A test that both passed and failed in one build is flaky: neither proof nor contradiction (docs/rules.md#results). Merging two results
 * does not depend on their order.
 */
function applyTests(db: Db, body: BuildsEvents['tests-reported'], atMs: number): void {
  const insert = sql(
    db,
    `INSERT INTO test_result (repository, build, suite, name, outcome, duration_ms, message, verifies)
    VALUES (@repository, @build, @suite, @name, @outcome, @durationMs, @message, @verifies)
    ON CONFLICT (repository, build, suite, name) DO UPDATE SET message = max(message, excluded.message), duration_ms = max(duration_ms, excluded.duration_ms), verifies = max(verifies, excluded.verifies),
      outcome = CASE WHEN outcome = excluded.outcome OR excluded.outcome = 'skipped' THEN outcome WHEN outcome = 'skipped' THEN excluded.outcome ELSE 'flaky' END`,
  )
  for (const result of body.results) {
    insert.run({
      ...result,
      durationMs: Number(result.durationMs),
      repository: body.repository,
      build: body.build,
      verifies: JSON.stringify(result.verifies),
    })
  }
  sql(
    db,
    `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms, is_told)
      VALUES (@repository, @build, @sha, '', 'passed', @atMs, @atMs, 0) ON CONFLICT DO NOTHING`,
  ).run({ repository: body.repository, build: body.build, sha: body.sha, atMs })
  // Shards of one build add up: the counts come from all results of the build.
  sql(
    db,
    `UPDATE build SET
      passed = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'passed'),
      failed = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'failed'),
      skipped = (SELECT count(*) FROM test_result WHERE repository = @repository AND build = @build AND outcome = 'skipped')
    WHERE repository = @repository AND number = @build`,
  ).run({ repository: body.repository, build: body.build })
  // Where nobody tells of its end, the reports are all that there is of it (docs/rules.md#builds).
  sql(
    db,
    `UPDATE build SET state = CASE WHEN failed > 0 THEN 'broke' ELSE 'passed' END, started_at_ms = min(started_at_ms, @atMs),
      finished_at_ms = max(finished_at_ms, @atMs) WHERE repository = @repository AND number = @build AND is_told = 0`,
  ).run({ repository: body.repository, build: body.build, atMs })
}
