const MINUTE_MS = 60_000

// Of moving.ts: by way of a table of the connection that holds the occurrences in hand; then by primary keys.
const MOVE_COLUMNS = `occurrence_id, at_ms, release, environment, trace_digest, json_extract(attributes, '$."user.id"')`

export const MOVE_CLEAR = 'DELETE FROM moving'

export const MOVE_TAKE_ONE = `INSERT INTO moving SELECT ${MOVE_COLUMNS} FROM occurrence WHERE fingerprint = @from
  AND occurrence_id = CAST(@occurrenceId AS INTEGER)`

export const MOVE_TAKE_ALIKE = `INSERT INTO moving SELECT ${MOVE_COLUMNS} FROM occurrence
      WHERE fingerprint = @from AND release = @release AND trace_digest IN (SELECT value FROM json_each(@digests))`

export const MOVE_LEFT =
  'SELECT 1 AS one FROM occurrence WHERE fingerprint = @from AND occurrence_id NOT IN (SELECT occurrence_id FROM moving) LIMIT 1'

export const MOVE_PEOPLE = `SELECT person, min(at_ms) / ${MINUTE_MS} AS firstMinute FROM moving WHERE person IS NOT NULL GROUP BY person`

export const MOVE_HIT = 'INSERT OR IGNORE INTO fault_person (fingerprint, person, first_minute) VALUES (@to, @person, @firstMinute)'

export const MOVE_COUNTERS = [
  `INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      SELECT @to, release, environment, min(at_ms), max(at_ms), count(*) FROM moving WHERE true GROUP BY release, environment
      ON CONFLICT (fingerprint, release, environment) DO UPDATE
        SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms),
        count = count + excluded.count`,
  `UPDATE fault_release SET count = max(0, fault_release.count - m.count)
      FROM (SELECT release, environment, count(*) AS count FROM moving GROUP BY 1, 2) m
      WHERE fault_release.fingerprint = @from AND fault_release.release = m.release AND fault_release.environment = m.environment`,
  `INSERT INTO fault_minute (fingerprint, minute, environment, count)
      SELECT @to, at_ms / ${MINUTE_MS}, environment, count(*) FROM moving WHERE true GROUP BY 2, 3
      ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = count + excluded.count`,
  `UPDATE fault_minute SET count = max(0, fault_minute.count - m.count)
      FROM (SELECT at_ms / ${MINUTE_MS} AS minute, environment, count(*) AS count FROM moving GROUP BY 1, 2) m
      WHERE fault_minute.fingerprint = @from AND fault_minute.minute = m.minute AND fault_minute.environment = m.environment`,
  `INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, count, severity_number)
      SELECT @to, g.service, g.grouping, m.trace_digest, m.first, m.last, m.count, g.severity_number FROM fault_group g
      JOIN (SELECT min(at_ms) AS first, max(at_ms) AS last, count(*) AS count, min(trace_digest) AS trace_digest
        FROM moving) m WHERE g.fingerprint = @from
      ON CONFLICT (fingerprint) DO UPDATE SET first_at_ms = min(first_at_ms, excluded.first_at_ms),
        last_at_ms = max(last_at_ms, excluded.last_at_ms), count = count + excluded.count,
        severity_number = max(severity_number, excluded.severity_number)`,
  'UPDATE fault_group SET count = max(0, count - (SELECT count(*) FROM moving)) WHERE fingerprint = @from',
  'DELETE FROM fault_release WHERE fingerprint = @from AND count = 0',
  'DELETE FROM fault_minute WHERE fingerprint = @from AND count = 0',
  'DELETE FROM fault_day WHERE fingerprint IN (@from, @to)',
  `INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute
      WHERE fingerprint IN (@from, @to) GROUP BY 1, 2`,
  'UPDATE occurrence SET fingerprint = @to WHERE occurrence_id IN (SELECT occurrence_id FROM moving)',
]
