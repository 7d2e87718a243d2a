import { NAME_OF_BUILD } from '#subjects/code/index'

// Of readTrend; by the index of builds by branch and number, from the newest back; at most 100 rows, each looked up by primary keys.
export const LIST_TREND = `SELECT b.number, b.sha, b.started_at_ms AS atMs, b.passed, b.failed, b.skipped,
    b.finished_at_ms - b.started_at_ms AS durationMs,
    ${NAME_OF_BUILD} AS name,
    (SELECT count(*) FROM test_result t WHERE t.repository = b.repository AND t.build = b.number AND t.outcome = 'flaky') AS flaky,
    (SELECT 100.0 * sum(c.covered_count) / nullif(sum(c.covered_count + c.missed_count), 0) FROM coverage c
      WHERE c.repository = b.repository AND c.build = b.number) AS covered,
    EXISTS (SELECT 1 FROM analysed_commit a WHERE a.repository = b.repository AND a.sha = b.sha) AS isAnalysed
    FROM build b WHERE b.repository = @repository AND b.branch = @branch AND b.state IN ('passed', 'broke')
    ORDER BY b.number DESC LIMIT 100`

// Of readTrend; by the primary keys: all findings of the commits of a trend, by what says how heavy they are.
export const LIST_FOUND_OF_COMMITS = `SELECT s.sha, f.level, f.kind, count(*) AS count FROM json_each(@shas) c
    CROSS JOIN finding_seen s ON s.repository = @repository AND s.sha = c.value
    CROSS JOIN finding f ON f.repository = s.repository AND f.tool = s.tool AND f.identity = s.identity
    GROUP BY s.sha, f.level, f.kind`

// Of readBuildCoverage; by the primary key; the files of two builds.
export const LIST_COVERED_FILE = `SELECT n.path, n.covered_count AS covered, n.missed_count AS missed, n.missed AS missedLines,
    n.missed_count - coalesce(o.missed_count, CASE WHEN @before IS NULL THEN n.missed_count ELSE 0 END) AS more FROM coverage n
    LEFT JOIN coverage o ON o.repository = n.repository AND o.build = @before AND o.path = n.path
    WHERE n.repository = @repository AND n.build = @number ORDER BY missed DESC, n.path LIMIT 2000`

// Of listUncoveredFailures; by service's repository and fault's service; at most 20 rows.
export const LIST_FAULT_OF_REPOSITORY = `SELECT f.number, f.type, f.message FROM service s JOIN fault f ON f.service = s.name
    WHERE s.repository = @repository AND s.name NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY f.number DESC LIMIT 20`

// Of listUncoveredFailures; by the primary key.
export const LIST_MISSED = 'SELECT path, missed FROM coverage WHERE repository = @repository AND build = @number AND missed_count > 0'

// Of listPinnedCharts; by the primary key; one row.
export const GET_PINNED = 'SELECT charts FROM pinned_charts WHERE project = @project'
