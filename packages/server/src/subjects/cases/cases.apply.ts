import type { CasesEvents } from '@dystracer/core/cases/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of tests by hand stand in the tables. */
export const casesAppliers: Appliers<CasesEvents> = {
  'case-written': (db, { body, atMs, actor }) => {
    const { project, number, revision, title, text } = body
    const common = { project, number, revision, title }
    sql(
      db,
      `INSERT INTO test_case (project, number, revision, title, text, steps, verifies)
        VALUES (@project, @number, @revision, @title, @text, @steps, @verifies)
        ON CONFLICT (project, number) DO UPDATE SET revision = excluded.revision, title = excluded.title, text = excluded.text,
          steps = excluded.steps, verifies = excluded.verifies`,
    ).run({ ...common, text, steps: JSON.stringify(body.steps), verifies: JSON.stringify(body.verifies) })
    sql(
      db,
      `INSERT INTO test_case_revision (project, number, revision, title, by, at_ms)
        VALUES (@project, @number, @revision, @title, @by, @atMs)`,
    ).run({ ...common, by: actor, atMs })
  },
  'case-retired': (db, { body: { project, number, isRetired } }) => {
    sql(db, 'UPDATE test_case SET is_retired = @isRetired WHERE project = @project AND number = @number').run({
      project,
      number,
      isRetired: Number(isRetired),
    })
  },
  'test-plan-made': (db, { body, atMs }) => {
    sql(
      db,
      `INSERT INTO test_plan (project, plan_id, name, release, environments, cases, at_ms)
        VALUES (@project, @planId, @name, @release, @environments, @cases, @atMs)`,
    ).run({ ...body, environments: JSON.stringify(body.environments), cases: JSON.stringify(body.cases), atMs })
  },
  'test-plan-changed': (db, { body }) => {
    sql(
      db,
      `UPDATE test_plan SET name = @name, release = @release, environments = @environments, cases = @cases
        WHERE project = @project AND plan_id = @planId`,
    ).run({ ...body, environments: JSON.stringify(body.environments), cases: JSON.stringify(body.cases) })
  },
  'test-done': (db, { body, atMs, actor }) => {
    sql(
      db,
      `INSERT INTO test_done (result_id, project, plan_id, number, revision, environment, outcome, step, words, item, by, at_ms)
        VALUES (@resultId, @project, @planId, @number, @revision, @environment, @outcome, @step, @words, @item, @by, @atMs)`,
    ).run({ ...body, by: actor, atMs })
  },
  'test-plan-signed': (db, { body: { project, planId, isSigned, words }, atMs, actor }) => {
    sql(
      db,
      `UPDATE test_plan SET signed_by = @by, signed_at_ms = @atMs, signed_words = @words WHERE project = @project AND plan_id = @planId`,
    ).run({ project, planId, by: isSigned ? actor : null, atMs: isSigned ? atMs : null, words: isSigned ? words : null })
  },
}
