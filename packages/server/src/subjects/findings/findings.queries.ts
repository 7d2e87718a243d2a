// Of findingsAt and broughtBy; by the primary key; one row.
export const HAS_ANALYSED = 'SELECT 1 FROM analysed_commit WHERE repository = @repository AND sha = @sha'

// Of nearestAnalysed; by the primary key: a row for each analysed commit of the repository.
export const LIST_ANALYSED = 'SELECT sha FROM analysed_commit WHERE repository = @repository AND sha <> @sha'

const FOUND = `f.tool, f.identity, f.rule_id AS ruleId, f.level, f.kind, f.minutes, f.message, f.file, s.line, f.detail,
    a.until_day AS asideUntil, a.why AS asideWhy, a.by AS asideBy, a.at_ms AS asideAtMs
  FROM finding_seen s
    JOIN finding f ON f.repository = s.repository AND f.tool = s.tool AND f.identity = s.identity
    LEFT JOIN finding_aside a ON a.repository = s.repository AND a.tool = s.tool AND a.identity = s.identity AND a.until_day >= @today`

// Of findingsAt; by the primary keys: what one commit has and the other has not.
export const LIST_FINDING_OF_ONE_ALONE = `SELECT ${FOUND}
    WHERE s.repository = @repository AND s.sha = @sha AND NOT EXISTS (SELECT 1 FROM finding_seen o
      WHERE o.repository = s.repository AND o.sha = @other AND o.tool = s.tool AND o.identity = s.identity)
    ORDER BY f.level <> 'error', f.level <> 'warning', f.file, s.line, f.identity` as const

// Of findingsAt; by the primary keys.
export const COUNT_FINDING_OF_BOTH = `SELECT count(*) AS count FROM finding_seen s WHERE s.repository = @repository AND s.sha = @sha
    AND EXISTS (SELECT 1 FROM finding_seen o
      WHERE o.repository = s.repository AND o.sha = @other AND o.tool = s.tool AND o.identity = s.identity)`

// Of broughtBy; by the primary keys: what is found at a commit and was first seen in one of some, without what is set aside.
export const LIST_BROUGHT = `SELECT f.level, f.kind, f.minutes FROM finding_seen s
    JOIN finding f ON f.repository = s.repository AND f.tool = s.tool AND f.identity = s.identity
    WHERE s.repository = @repository AND s.sha = @sha AND f.first_sha IN (SELECT value FROM json_each(@shas))
      AND NOT EXISTS (SELECT 1 FROM finding_aside a
        WHERE a.repository = s.repository AND a.tool = s.tool AND a.identity = s.identity AND a.until_day >= @today)`

// Of setFindingAside; by the primary key; one row.
export const GET_FINDING =
  'SELECT rule_id AS ruleId, message FROM finding WHERE repository = @repository AND tool = @tool AND identity = @identity'

// Of listAsideFindings; reads the table, which holds what people set aside by hand.
export const LIST_FINDING_ASIDE = `SELECT a.repository, a.tool, a.identity, f.message, f.file, a.until_day AS until, a.why, a.by,
    a.at_ms AS atMs
    FROM finding_aside a JOIN finding f ON f.repository = a.repository AND f.tool = a.tool AND f.identity = a.identity
    WHERE a.until_day >= @today AND a.repository NOT IN (SELECT value FROM json_each(@hidden))
    ORDER BY a.until_day, a.repository, f.file, a.identity LIMIT 500`
