/** The columns of a rule as they are read. */
const COLUMNS = `r.rule_id AS ruleId, r.name, r.environment_kind AS environmentKind, r.severity_at_least AS severityAtLeast,
  r.count_at_least AS countAtLeast, r.window_ms AS windowMs, r.people_at_least AS peopleAtLeast, r.condition AS "where", r.deed,
  r.per_hour AS perHour, r.per_day AS perDay, r.goes_on AS goesOn, r.is_draft AS isDraft`

// Of readRules; reads the table, which is small.
export const LIST_RULE = `SELECT ${COLUMNS} FROM intake_rule r WHERE r.project = @project ORDER BY r.position, r.rule_id` as const

// Of whoseRule; by the primary key; one row.
export const GET_RULE_PROJECT = 'SELECT project, name FROM intake_rule WHERE rule_id = @ruleId'

// Of readBudget; by the primary key; one row.
export const GET_BUDGET = 'SELECT per_hour AS perHour, per_day AS perDay FROM intake_budget WHERE project = @project'

// Of loggedSince; by rule_firing_at; what rules of the project logged in a span, in order of time.
export const LIST_LOGGED_SINCE = `SELECT f.rule_id AS ruleId, f.at_ms AS atMs FROM rule_firing f JOIN intake_rule r ON r.rule_id = f.rule_id
  WHERE f.at_ms > @sinceMs AND f.outcome = 'logged' AND r.project = @project ORDER BY f.at_ms`

// Of firingsOf; by the primary key: all that a rule did.
export const LIST_FIRING = `SELECT f.fault AS number, f.item_key AS key, f.at_ms AS atMs, f.outcome, f.count, f.people FROM rule_firing f
  WHERE f.rule_id = @ruleId ORDER BY f.at_ms DESC`

// Of countFirings; by the primary key: how often a rule did what, ever and since.
export const COUNT_FIRING = `SELECT count(*) AS fired, max(at_ms) AS lastFiredAtMs, sum(at_ms > @sinceMs AND outcome = 'logged') AS logged,
  sum(at_ms > @sinceMs AND outcome = 'gathered') AS gathered, sum(at_ms > @sinceMs AND outcome NOT IN ('logged', 'gathered')) AS other
  FROM rule_firing WHERE rule_id = @ruleId`

// Of hasFired; by the primary key; one row.
export const HAS_FIRED = 'SELECT 1 FROM rule_firing WHERE rule_id = @ruleId AND fault = @number'

// Of checkDeed; by the primary key; one row.
export const HAS_COMPONENT = 'SELECT 1 FROM component WHERE name = @component'
