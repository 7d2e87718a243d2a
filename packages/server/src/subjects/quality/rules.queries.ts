// Of qualityRulesOf; by the primary key; one row.
export const GET_RULES = 'SELECT rules FROM quality_rule_set WHERE project = @project'

// Of listQualityRules; by the index of rule and time; one row, over what one rule did.
export const COUNT_FIRINGS = `
  SELECT count(*) AS fired, count(*) FILTER (WHERE at_ms >= @sinceMs) AS week, max(at_ms) AS lastFiredAtMs
  FROM quality_firing WHERE project = @project AND rule_id = @ruleId`

// Of listQualityRules; by the index of rule and time, each item by its primary key; what one rule logged.
export const COUNT_JUDGED = `
  SELECT count(*) FILTER (WHERE i.disposition IS NOT NULL) AS rejected,
    count(*) FILTER (WHERE i.disposition IS NULL AND (i.accepted_at_ms IS NOT NULL OR i.stage_rank > 0)) AS taken,
    count(*) AS judged
  FROM (SELECT DISTINCT key FROM quality_firing WHERE project = @project AND rule_id = @ruleId) f JOIN item i ON i.key = f.key`

// Of carryOut and tryQualityRule; by the index of identities; one row.
export const HAS_FIRED = 'SELECT key FROM quality_firing WHERE identity = @identity'

// Of carryOut; by the index of rule and time; one row.
export const COUNT_LOGGED_SINCE = `
  SELECT count(*) AS count FROM quality_firing
  WHERE project = @project AND rule_id = @ruleId AND at_ms > @sinceMs AND outcome = 'logged'`

// Of gather; by the index of rule and time; the newest open item of the day that gathers what a rule may not log.
export const GET_GATHERING = `
  SELECT i.key, i.description FROM quality_firing f JOIN item i ON i.key = f.key
  WHERE f.project = @project AND f.rule_id = @ruleId AND f.at_ms > @sinceMs AND f.outcome = 'gathered' AND i.disposition IS NULL
  ORDER BY f.at_ms DESC LIMIT 1`

// Of tryQualityRule; by the primary key; one row.
export const GET_ITEM_TO_JUDGE = `
  SELECT accepted_at_ms AS acceptedAtMs, stage_rank AS stageRank, disposition FROM item WHERE key = @key`

// Of tryQualityRule; by the primary keys; the repositories of a project.
export const LIST_REPOSITORIES =
  'SELECT DISTINCT repository FROM service WHERE project = @project AND repository IS NOT NULL ORDER BY repository'

// Of tryQualityRule; by the index of builds by their start; the builds of a repository in a span.
export const LIST_BUILDS_SINCE = `
  SELECT number, started_at_ms AS atMs, state FROM build
  WHERE repository = @repository AND started_at_ms >= @sinceMs AND state <> 'running' ORDER BY started_at_ms, number LIMIT 5000`

// Of tryQualityRule; over the findings of a repository; those that were first seen in a span.
export const LIST_FINDINGS_SINCE = `
  SELECT tool, identity, rule_id AS ruleId, level, message, file, line, first_sha AS sha, first_at_ms AS atMs FROM finding
  WHERE repository = @repository AND first_at_ms >= @sinceMs ORDER BY first_at_ms LIMIT 5000`

// Of coverageOf; by the primary key; the files of two builds.
export const LIST_FALLEN_FILES = `
  SELECT n.path, n.missed_count - coalesce(o.missed_count, 0) AS more FROM coverage n
  LEFT JOIN coverage o ON o.repository = n.repository AND o.build = @before AND o.path = n.path
  WHERE n.repository = @repository AND n.build = @build AND n.missed_count > coalesce(o.missed_count, 0)
  ORDER BY more DESC, n.path LIMIT 20`
