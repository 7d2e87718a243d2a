import type { BuildsEvents, TestResultBody } from '@dystracer/core/builds/events'
import { uniteCoverage } from '@dystracer/core/builds/reports/coverage'
import { fromRanges, toRanges } from '@dystracer/core/text/line-ranges'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of builds stand in the tables: the same code serves the live write and the rebuild of `verify`. */
export const buildsAppliers: Appliers<BuildsEvents> = {
  'build-started': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO build (repository, number, sha, branch, state, started_at_ms)
        VALUES (@repository, @number, @sha, @branch, 'running', @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch),
          sha = CASE sha WHEN '' THEN excluded.sha ELSE sha END,
          started_at_ms = CASE WHEN is_told = 0 THEN excluded.started_at_ms ELSE min(started_at_ms, excluded.started_at_ms) END,
          finished_at_ms = CASE WHEN is_told = 0 THEN NULL ELSE finished_at_ms END, is_told = 1`,
    ).run({ ...body, atMs })
    settleState(db, body)
  },
  'build-finished': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms, is_ended, told_outcome, outcome_at_ms)
        VALUES (@repository, @number, @sha, @branch, 'ended', @startedAtMs, @atMs, 1, @state, @atMs)
        ON CONFLICT (repository, number) DO UPDATE SET branch = max(branch, excluded.branch),
          sha = CASE sha WHEN '' THEN excluded.sha ELSE sha END,
          started_at_ms = CASE WHEN is_told = 0 THEN excluded.started_at_ms ELSE min(started_at_ms, excluded.started_at_ms) END,
          finished_at_ms = CASE WHEN is_told = 0 THEN excluded.finished_at_ms
            ELSE max(coalesce(finished_at_ms, 0), excluded.finished_at_ms) END,
          told_outcome = CASE WHEN excluded.told_outcome IS NOT NULL
            AND excluded.outcome_at_ms >= coalesce(outcome_at_ms, 0) THEN excluded.told_outcome ELSE told_outcome END,
          outcome_at_ms = max(coalesce(outcome_at_ms, 0), excluded.outcome_at_ms), is_told = 1, is_ended = 1`,
    ).run({ ...body, atMs })
    settleState(db, body)
  },
  'build-named': (db, { body }) => {
    sql(
      db,
      'INSERT INTO build_name (repository, name, number, is_shown) VALUES (@repository, @name, @number, @isShown) ON CONFLICT DO NOTHING',
    ).run({ ...body, isShown: Number(body.isShown) })
  },
  'build-step-told': (db, { body }) => {
    sql(
      db,
      `INSERT INTO build_step (repository, build, step, name, parent, started_at_ms, finished_at_ms, outcome)
        VALUES (@repository, @build, @step, @name, @parent, @startedAtMs, @finishedAtMs, @outcome)
        ON CONFLICT (repository, build, step) DO UPDATE
          SET name = max(name, excluded.name), parent = coalesce(max(parent, excluded.parent), parent, excluded.parent), started_at_ms =
          coalesce(min(started_at_ms, excluded.started_at_ms), started_at_ms, excluded.started_at_ms),
          outcome = CASE WHEN excluded.finished_at_ms >= coalesce(finished_at_ms, 0) THEN excluded.outcome ELSE outcome END,
          finished_at_ms = coalesce(max(finished_at_ms, excluded.finished_at_ms), finished_at_ms, excluded.finished_at_ms)`,
    ).run({ ...body, parent: body.parent ?? null })
  },
  'tests-reported': (db, { body, atMs }) => {
    applyTests(db, body, atMs)
  },
  'coverage-reported': (db, { body, atMs }) => {
    applyCoverage(db, body)
    seeReport(db, body, atMs)
  },
  'failure-taken': (db, { body, atMs }) => {
    const { repository, branch, suite, name, personId, note } = body
    if (personId === null)
      sql(db, 'DELETE FROM failure_taken WHERE repository = @repository AND branch = @branch AND suite = @suite AND name = @name').run({
        repository,
        branch,
        suite,
        name,
      })
    else
      sql(
        db,
        `INSERT OR REPLACE INTO failure_taken (repository, branch, suite, name, person_id, note, at_ms)
          VALUES (@repository, @branch, @suite, @name, @personId, @note, @atMs)`,
      ).run({ repository, branch, suite, name, personId, note, atMs })
  },
  'test-set-aside': (db, { body: { repository, suite, name, untilDay, why }, actor, atMs }) => {
    if (untilDay === null)
      sql(db, 'DELETE FROM test_aside WHERE repository = @repository AND suite = @suite AND name = @name').run({ repository, suite, name })
    else
      sql(
        db,
        `INSERT OR REPLACE INTO test_aside (repository, suite, name, until_day, why, by, at_ms)
          VALUES (@repository, @suite, @name, @untilDay, @why, @by, @atMs)`,
      ).run({ repository, suite, name, untilDay, why, by: actor, atMs })
  },
  'artefact-told': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO artefact (purl, name, version, repository, state, sbom, at_ms)
        VALUES (@purl, @name, @version, @repository, @state, @sbom, @atMs)
        ON CONFLICT (purl) DO UPDATE SET sbom = coalesce(excluded.sbom, sbom),
          state = CASE WHEN excluded.at_ms >= at_ms THEN excluded.state ELSE state END,
          at_ms = max(at_ms, excluded.at_ms)`,
    ).run({ ...body, atMs })
  },
  'findings-reported': (db, { body, atMs }) => {
    applyFindings(db, body, atMs)
  },
}

/** The build that a report speaks of; where nobody tells of it, its reports are all that there is of it (docs/rules.md#builds). */
function seeReport(
  db: Db,
  { repository, build, sha, branch = '' }: { repository: string; build: number; sha: string; branch?: string },
  atMs: number,
): void {
  sql(
    db,
    `INSERT INTO build (repository, number, sha, branch, state, started_at_ms, finished_at_ms, is_told)
      VALUES (@repository, @build, @sha, @branch, 'passed', @atMs, @atMs, 0)
      ON CONFLICT (repository, number) DO UPDATE SET sha = CASE sha WHEN '' THEN excluded.sha ELSE sha END,
        branch = max(branch, excluded.branch),
        started_at_ms = CASE WHEN is_told = 0 THEN min(started_at_ms, excluded.started_at_ms) ELSE started_at_ms END,
        finished_at_ms = CASE WHEN is_told = 0 THEN max(finished_at_ms, excluded.finished_at_ms) ELSE finished_at_ms END`,
  ).run({ repository, build, sha, branch, atMs })
  settleState(db, { repository, number: build })
}

/**
 * The state as a function of what was told, so that the order of telling does not matter: an outcome that somebody told; else it runs until
 * its end is told; else its tests decide; else nobody knows more than that it ended.
 */
function settleState(db: Db, { repository, number }: { repository: string; number: number }): void {
  sql(
    db,
    `UPDATE build SET state = CASE WHEN told_outcome IS NOT NULL THEN told_outcome WHEN is_told = 1 AND is_ended = 0 THEN 'running'
        WHEN failed > 0 THEN 'broke' WHEN passed > 0 OR is_told = 0 THEN 'passed' ELSE 'ended' END
      WHERE repository = @repository AND number = @number`,
  ).run({ repository, number })
}

/**
 * A test that both passed and failed in one build is flaky: neither proof nor contradiction (docs/rules.md#results). Merging two results
 * does not depend on their order.
 */
function applyTests(db: Db, body: BuildsEvents['tests-reported'], atMs: number): void {
  const insert = sql(
    db,
    `INSERT OR IGNORE INTO test_result (repository, build, suite, name, outcome, duration_ms, message, verifies, file, host, position)
    VALUES (@repository, @build, @suite, @name, @outcome, @durationMs, @message, @verifies, @file, @host, @position)`,
  )
  const known = sql(
    db,
    'SELECT outcome FROM test_result WHERE repository = @repository AND build = @build AND suite = @suite AND name = @name',
  )
  const merge = sql(
    db,
    `UPDATE test_result SET outcome = @outcome, message = max(message, @message), duration_ms = max(duration_ms, @durationMs),
      verifies = max(verifies, @verifies), file = coalesce(max(file, @file), file, @file),
      host = coalesce(max(host, @host), host, @host), position = coalesce(max(position, @position), position, @position)
      WHERE repository = @repository AND build = @build AND suite = @suite AND name = @name`,
  )
  const of = { repository: body.repository, build: body.build }
  // Shards of one build add up: each result changes the counts by what it adds to those that are there.
  const more: Record<TestResultBody['outcome'], number> = { passed: 0, failed: 0, skipped: 0, flaky: 0 }
  for (const result of body.results) {
    const { suite, name, outcome } = result
    const row = {
      ...of,
      suite,
      name,
      outcome,
      message: result.message,
      durationMs: Number(result.durationMs),
      verifies: JSON.stringify(result.verifies),
      file: result.file ?? null,
      host: result.host ?? null,
      position: result.position ?? null,
    }
    if (insert.run(row).changes === 1) {
      more[outcome]++
      continue
    }
    const before = known.get<{ outcome: TestResultBody['outcome'] }>({ ...of, suite, name })?.outcome ?? outcome
    const both = mergedOutcome(before, outcome)
    merge.run({ ...row, outcome: both })
    more[before]--
    more[both]++
  }
  seeReport(db, body, atMs)
  sql(
    db,
    `UPDATE build SET passed = passed + @passed, failed = failed + @failed, skipped = skipped + @skipped
      WHERE repository = @repository AND number = @build`,
  ).run({ ...of, passed: more.passed, failed: more.failed, skipped: more.skipped })
  settleState(db, { repository: body.repository, number: body.build })
}

/** What two reports of one test in one build come to, in either order. */
function mergedOutcome(before: TestResultBody['outcome'], told: TestResultBody['outcome']): TestResultBody['outcome'] {
  if (before === 'skipped') return told
  return before === told || told === 'skipped' ? before : 'flaky'
}

/** Several reports of one file are united, not added: run is what any of them ran. */
function applyCoverage(db: Db, { repository, build, files }: BuildsEvents['coverage-reported']): void {
  for (const { path, covered, missed } of files) {
    const known = sql(db, 'SELECT covered, missed FROM coverage WHERE repository = @repository AND build = @build AND path = @path').get<{
      covered: string
      missed: string
    }>({ repository, build, path })
    const told = { covered: fromRanges(covered), missed: fromRanges(missed) }
    const lines = known ? uniteCoverage(told, { covered: fromRanges(known.covered), missed: fromRanges(known.missed) }) : told
    sql(
      db,
      `INSERT OR REPLACE INTO coverage (repository, build, path, covered, missed, covered_count, missed_count)
        VALUES (@repository, @build, @path, @covered, @missed, @coveredCount, @missedCount)`,
    ).run({
      repository,
      build,
      path,
      covered: toRanges(lines.covered),
      missed: toRanges(lines.missed),
      coveredCount: lines.covered.length,
      missedCount: lines.missed.length,
    })
  }
}

/** The earliest sight of a finding is kept, by its time and then its commit, so that the order of arrival does not matter. */
function applyFindings(db: Db, { repository, sha, findings }: BuildsEvents['findings-reported'], atMs: number): void {
  sql(db, 'INSERT OR IGNORE INTO analysed_commit (repository, sha) VALUES (@repository, @sha)').run({ repository, sha })
  for (const { tool, identity, ruleId, level, message, file, line, kind, minutes, detail } of findings) {
    sql(
      db,
      `INSERT INTO finding (repository, tool, identity, rule_id, level, kind, minutes, detail, message, file, line, first_sha, first_at_ms)
        VALUES (@repository, @tool, @identity, @ruleId, @level, @kind, @minutes, @detail, @message, @file, @line, @sha, @atMs)
        ON CONFLICT (repository, tool, identity) DO UPDATE
          SET first_sha = excluded.first_sha, first_at_ms = excluded.first_at_ms, line = excluded.line,
          message = excluded.message, level = excluded.level, rule_id = excluded.rule_id, file = excluded.file,
          kind = excluded.kind, minutes = excluded.minutes, detail = excluded.detail
          WHERE (excluded.first_at_ms, excluded.first_sha) < (finding.first_at_ms, finding.first_sha)`,
    ).run({
      repository,
      tool,
      identity,
      ruleId,
      level,
      kind: kind ?? null,
      minutes: minutes ?? null,
      detail: detail === undefined ? null : JSON.stringify(detail),
      message,
      file,
      line,
      sha,
      atMs,
    })
    sql(
      db,
      `INSERT INTO finding_seen (repository, sha, tool, identity, line)
        VALUES (@repository, @sha, @tool, @identity, @line) ON CONFLICT DO NOTHING`,
    ).run({ repository, sha, tool, identity, line })
  }
}
