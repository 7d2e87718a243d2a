// Of loadOf; by fault_group_service and fault_release's primary key.
export const COUNT_FAILURES = `SELECT coalesce(sum(r.count), 0) AS count FROM fault_group g
    JOIN fault_release r ON r.fingerprint = g.fingerprint AND r.release = @release
    WHERE g.service = @service AND g.severity_number >= 17 AND r.environment IN (SELECT value FROM json_each(@environments))`

// Of loadOf; by the primary key: the minutes of one service since the release began to run.
export const COUNT_UNITS = `SELECT coalesce(sum(count), 0) AS count FROM activity_minute
    WHERE service = @service AND minute >= @fromMinute AND release = @release
    AND environment IN (SELECT value FROM json_each(@environments))`

// Of newFaultsOf; by fault_group_service and fault_release's primary key; at most 50 rows.
export const LIST_NEW_FAULT = `SELECT g.fingerprint, min(r.first_at_ms) AS atMs, sum(r.count) AS occurrences FROM fault_group g
    JOIN fault_release r ON r.fingerprint = g.fingerprint AND r.release = @release
      AND r.environment IN (SELECT value FROM json_each(@environments))
    WHERE g.service = @service AND NOT EXISTS (SELECT 1 FROM fault_release e
      WHERE e.fingerprint = g.fingerprint AND e.first_at_ms < r.first_at_ms)
    GROUP BY g.fingerprint ORDER BY atMs LIMIT 50`

// Of newFaultsOf; by the unique fingerprint; one row.
export const GET_FAULT = 'SELECT number, type, message FROM fault WHERE fingerprint = @fingerprint AND merged_into IS NULL'

// Of readReleaseHealth; reads the table.
export const LIST_PRODUCTION = "SELECT name FROM environment WHERE kind = 'production' ORDER BY name"

// Of sinceOf; by deployment_place; one row.
export const GET_RUNNING_SINCE = `SELECT min(running_at_ms) AS atMs FROM deployment WHERE service = @service AND release = @release
    AND environment IN (SELECT value FROM json_each(@environments)) AND running_at_ms IS NOT NULL`
