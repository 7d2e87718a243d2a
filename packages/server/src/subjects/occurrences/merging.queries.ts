/** Sites whose owner an undo goes back to. */
export interface OwnedSite {
  place: string
  release: string
  position: number
  file: string
  fingerprint: string
}
/** What a group was before it went into another. */
export interface SavedGroup {
  service: string
  grouping: string
  traceDigest: string
  firstAtMs: number
  lastAtMs: number
  count: number
  severityNumber: number
  leftOut: number
  lastOccurrenceId: number
  sites: OwnedSite[]
  releases: { release: string; environment: string; firstAtMs: number; lastAtMs: number; count: number }[]
  minutes: { minute: number; environment: string; count: number }[]
  people: string[]
}

const MINUTES_MAX = 50_000
const PEOPLE_MAX = 50_000

// Of merging.ts: what one merge, or taking it back, reads and writes; each by the primary keys of the two
// fingerprints, minutes and people up to a limit.
export const MERGE_HAS = 'SELECT count(*) AS count FROM fault_group WHERE fingerprint IN (?, ?)'

export const MERGE_STEPS = [
  'UPDATE occurrence SET fingerprint = @into WHERE fingerprint = @from',
  `INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      SELECT @into, release, environment, first_at_ms, last_at_ms, count FROM fault_release WHERE fingerprint = @from
      ON CONFLICT (fingerprint, release, environment) DO UPDATE
        SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms),
        count = count + excluded.count`,
  'DELETE FROM fault_release WHERE fingerprint = @from',
  `INSERT INTO fault_minute (fingerprint, minute, environment, count) SELECT @into, minute, environment, count
      FROM fault_minute WHERE fingerprint = @from
      ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = count + excluded.count`,
  'DELETE FROM fault_minute WHERE fingerprint = @from',
  `INSERT INTO fault_day (fingerprint, day, count) SELECT @into, day, count FROM fault_day WHERE fingerprint = @from
      ON CONFLICT (fingerprint, day) DO UPDATE SET count = count + excluded.count`,
  'DELETE FROM fault_day WHERE fingerprint = @from',
  `INSERT INTO fault_person (fingerprint, person, first_minute) SELECT @into, person, first_minute FROM fault_person
      WHERE fingerprint = @from
      ON CONFLICT (fingerprint, person) DO UPDATE SET first_minute = min(first_minute, excluded.first_minute)`,
  'DELETE FROM fault_person WHERE fingerprint = @from',
  `UPDATE fault_group SET (first_at_ms, last_at_ms, count, severity_number, left_out) =
      (SELECT min(g.first_at_ms), max(g.last_at_ms), sum(g.count), max(g.severity_number), sum(g.left_out)
        FROM fault_group g WHERE g.fingerprint IN (@from, @into)) WHERE fingerprint = @into`,
  'DELETE FROM fault_group WHERE fingerprint = @from',
  'UPDATE group_alias SET into_fingerprint = @into WHERE into_fingerprint = @from',
  'INSERT OR REPLACE INTO group_alias (fingerprint, into_fingerprint) VALUES (@from, @into)',
]

export const UNMERGE_GROUP = `SELECT service, grouping, trace_digest AS traceDigest, first_at_ms AS firstAtMs, last_at_ms AS
  lastAtMs, count,
      severity_number AS severityNumber, left_out AS leftOut FROM fault_group WHERE fingerprint = ?`

export const UNMERGE_LAST = 'SELECT max(occurrence_id) AS id FROM occurrence'

export const UNMERGE_SITES = 'SELECT place, release, position, file, fingerprint FROM fault_site WHERE fingerprint IN (?, ?)'

export const UNMERGE_RELEASES =
  'SELECT release, environment, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = ?'

export const UNMERGE_MINUTES = `SELECT minute, environment, count FROM fault_minute WHERE fingerprint = ?
  ORDER BY minute DESC LIMIT ${MINUTES_MAX}`

export const UNMERGE_PEOPLE = `SELECT person FROM fault_person WHERE fingerprint = ? LIMIT ${PEOPLE_MAX}`

export const UNMERGE_KEEP = 'INSERT OR REPLACE INTO merged_group (fingerprint, into_fingerprint, saved) VALUES (@from, @into, @saved)'

export const UNMERGE_SAVED = 'SELECT into_fingerprint, saved FROM merged_group WHERE fingerprint = ?'

export const UNMERGE_FORGET = 'DELETE FROM merged_group WHERE fingerprint = ?'

export const UNMERGE_INNER = `WITH RECURSIVE gone (fingerprint) AS (SELECT fingerprint FROM merged_group WHERE into_fingerprint = ? UNION
      SELECT m.fingerprint FROM merged_group m JOIN gone g ON m.into_fingerprint = g.fingerprint)
    SELECT fingerprint FROM gone`

export const UNMERGE_DROP_ALIAS = 'DELETE FROM group_alias WHERE fingerprint = ?'

export const UNMERGE_REDIRECT = 'UPDATE group_alias SET into_fingerprint = @into WHERE fingerprint = @fingerprint'

export const UNMERGE_DROP_SITES = 'DELETE FROM fault_site WHERE fingerprint = ?'

export const UNMERGE_READ_SITES = 'SELECT place, release, position, file, fingerprint, site FROM fault_site WHERE fingerprint = ?'

export const UNMERGE_PUT_SITE = `INSERT OR REPLACE INTO fault_site (place, release, position, file, fingerprint, site)
      VALUES (@place, @release, @position, @file, @fingerprint, @site)`

export const UNMERGE_PUT_GROUP = `INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms,
  last_at_ms, count, severity_number, left_out)
    VALUES (@from, @service, @grouping, @traceDigest, @firstAtMs, @lastAtMs, 0, @severityNumber, 0)`

export const UNMERGE_MOVED =
  'SELECT count(*) AS count FROM occurrence WHERE fingerprint = @from AND occurrence_id <= CAST(@upTo AS INTEGER)'

export const UNMERGE_SHIFT =
  'UPDATE fault_group SET count = max(0, count + @count), left_out = max(0, left_out + @leftOut) WHERE fingerprint = @fingerprint'

export const UNMERGE_PUT_PERSON = 'INSERT OR IGNORE INTO fault_person (fingerprint, person) VALUES (@from, @person)'

export const UNMERGE_COUNTED_RELEASE = `SELECT count(*) AS count FROM occurrence
      WHERE fingerprint = @from AND release = @release AND environment = @environment
      AND occurrence_id <= CAST(@upTo AS INTEGER)`

export const UNMERGE_SHIFT_RELEASE = `INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      VALUES (@fingerprint, @release, @environment, @firstAtMs, @lastAtMs, max(0, @count))
    ON CONFLICT (fingerprint, release, environment) DO UPDATE SET count = max(0, count + @count)`

export const UNMERGE_COUNTED_MINUTES = `SELECT at_ms / 60000 AS minute, environment, count(*) AS count FROM occurrence
      WHERE fingerprint = @from AND occurrence_id <= CAST(@upTo AS INTEGER) GROUP BY 1, 2`

export const UNMERGE_SHIFT_MINUTE = `INSERT INTO fault_minute (fingerprint, minute, environment, count)
      VALUES (@fingerprint, @minute, @environment, max(0, @count))
    ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = max(0, count + @count)`

export const UNMERGE_DAYS = [
  'DELETE FROM fault_minute WHERE fingerprint IN (@from, @into) AND count = 0',
  'DELETE FROM fault_release WHERE fingerprint IN (@from, @into) AND count = 0',
  'DELETE FROM fault_day WHERE fingerprint IN (@from, @into)',
  `INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute
      WHERE fingerprint IN (@from, @into) GROUP BY 1, 2`,
]
