// Of spikeNow; by the primary key: one hour.
export const COUNT_HOUR = `SELECT coalesce(sum(count), 0) AS count FROM fault_minute
  WHERE fingerprint = @fingerprint AND minute >= @fromMinute AND minute < @fromMinute + 60`

// Of spikeNow; by the primary key: four weeks by hour.
export const LIST_HOUR = `SELECT minute / 60 AS hour, sum(count) AS count FROM fault_minute
  WHERE fingerprint = @fingerprint AND minute >= @fromMinute GROUP BY hour`

// Of returnedAfter; by the primary key; one row.
export const GET_FIRST_DAY_SINCE = 'SELECT min(day) AS day FROM fault_day WHERE fingerprint = @fingerprint AND day >= @day'

// Of returnedAfter; by the primary key; one row.
export const GET_LAST_DAY_BEFORE = 'SELECT max(day) AS day FROM fault_day WHERE fingerprint = @fingerprint AND day < @day'
