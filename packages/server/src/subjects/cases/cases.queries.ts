const CASE = 'number, revision, title, text, steps, verifies, is_retired'
const DONE = `d.result_id AS resultId, d.plan_id AS planId, p.name AS planName, p.release, d.number, d.environment, d.outcome, d.revision,
  d.revision < c.revision AS isStale, d.step, d.words, d.item, d.by, d.at_ms AS atMs FROM test_done d
  JOIN test_plan p ON p.project = d.project AND p.plan_id = d.plan_id JOIN test_case c ON c.project = d.project AND c.number = d.number`

// Of listCases; by the primary key.
export const LIST_CASE = `SELECT ${CASE} FROM test_case WHERE project = @project ORDER BY number LIMIT 10000` as const

// Of readCase; by the primary key; one row.
export const GET_CASE = `SELECT ${CASE} FROM test_case WHERE project = @project AND number = @number` as const

// Of beginCase; by the primary key, from the end; one row.
export const GET_LAST_CASE_NUMBER = 'SELECT max(number) AS number FROM test_case WHERE project = @project'

// Of readCase; by the primary key.
export const LIST_CASE_REVISION = `SELECT revision, title, by, at_ms AS atMs FROM test_case_revision
  WHERE project = @project AND number = @number ORDER BY revision DESC`

// Of readCase; by test_done_case, from the newest back; at most 100 rows.
export const LIST_DONE_OF_CASE = `SELECT ${DONE} WHERE d.project = @project AND d.number = @number ORDER BY d.at_ms DESC LIMIT 100` as const

// Of listCases; by test_done_case: the newest result of each case.
export const LIST_LAST_DONE = `SELECT ${DONE} WHERE d.project = @project
  AND d.result_id = (SELECT o.result_id FROM test_done o WHERE o.project = d.project AND o.number = d.number
    ORDER BY o.at_ms DESC, o.result_id DESC LIMIT 1) ORDER BY d.number` as const

// Of readTestPlan; by test_done_plan.
export const LIST_DONE_OF_PLAN = `SELECT ${DONE} WHERE d.project = @project AND d.plan_id = @planId ORDER BY d.at_ms, d.result_id` as const

// Of listTestPlans; by the primary key.
export const LIST_PLAN = `SELECT plan_id, name, release, environments, cases, at_ms, signed_by, signed_at_ms, signed_words FROM test_plan
  WHERE project = @project ORDER BY at_ms DESC, plan_id`

// Of readTestPlan; by the primary key; one row.
export const GET_PLAN = `SELECT plan_id, name, release, environments, cases, at_ms, signed_by, signed_at_ms, signed_words FROM test_plan
  WHERE project = @project AND plan_id = @planId`

// Of writeCase; by the primary key; one row.
export const HAS_REQUIREMENT = 'SELECT 1 FROM requirement WHERE key = @key'

// Of planCases; by the primary key; one row.
export const HAS_RELEASE = 'SELECT 1 FROM release WHERE service = @service AND name = @name'
