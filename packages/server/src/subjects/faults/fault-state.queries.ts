// Of spikeNow; by the primary key: one hour.
export const COUNT_HOUR = `SELECT coalesce(sum(count), 0) AS count FROM fault_minute
  WHERE fingerprint = @fingerprint AND minute >= @fromMinute AND minute < @fromMinute + 60`

// Of spikeNow; by the primary key: one range for each run of hours that is asked for.
export const LIST_HOUR = `SELECT m.minute / 60 AS hour, sum(m.count) AS count FROM json_each(@runs) r
  CROSS JOIN fault_minute m ON m.fingerprint = @fingerprint
    AND m.minute >= 60 * (r.value ->> '$[0]') AND m.minute < 60 * (r.value ->> '$[1]') GROUP BY hour`

// Of returnedAfter; by the primary key; one row.
export const GET_FIRST_DAY_SINCE = 'SELECT min(day) AS day FROM fault_day WHERE fingerprint = @fingerprint AND day >= @day'

// Of returnedAfter; by the primary key; one row.
export const GET_LAST_DAY_BEFORE = 'SELECT max(day) AS day FROM fault_day WHERE fingerprint = @fingerprint AND day < @day'
