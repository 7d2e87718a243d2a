import type { Db } from '#platform/db/open'

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

/** Moves all of one group to another: occurrences, counters, people. The caller's transaction makes it one. */
export function prepareMerge(db: Db) {
  const has = db.prepare<[string, string], { count: number }>('SELECT count(*) AS count FROM fault_group WHERE fingerprint IN (?, ?)')
  const steps = [
    'UPDATE occurrence SET fingerprint = @into WHERE fingerprint = @from',
    `INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      SELECT @into, release, environment, first_at_ms, last_at_ms, count FROM fault_release WHERE fingerprint = @from
      ON CONFLICT (fingerprint, release, environment) DO UPDATE SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms), count = count + excluded.count`,
    'DELETE FROM fault_release WHERE fingerprint = @from',
    `INSERT INTO fault_minute (fingerprint, minute, environment, count) SELECT @into, minute, environment, count FROM fault_minute WHERE fingerprint = @from
      ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = count + excluded.count`,
    'DELETE FROM fault_minute WHERE fingerprint = @from',
    `INSERT INTO fault_day (fingerprint, day, count) SELECT @into, day, count FROM fault_day WHERE fingerprint = @from
      ON CONFLICT (fingerprint, day) DO UPDATE SET count = count + excluded.count`,
    'DELETE FROM fault_day WHERE fingerprint = @from',
    `INSERT INTO fault_person (fingerprint, person, first_minute) SELECT @into, person, first_minute FROM fault_person WHERE fingerprint = @from
      ON CONFLICT (fingerprint, person) DO UPDATE SET first_minute = min(first_minute, excluded.first_minute)`,
    'DELETE FROM fault_person WHERE fingerprint = @from',
    `UPDATE fault_group SET (first_at_ms, last_at_ms, count, severity_number, left_out) =
      (SELECT min(g.first_at_ms), max(g.last_at_ms), sum(g.count), max(g.severity_number), sum(g.left_out) FROM fault_group g WHERE g.fingerprint IN (@from, @into)) WHERE fingerprint = @into`,
    'DELETE FROM fault_group WHERE fingerprint = @from',
    'UPDATE group_alias SET into_fingerprint = @into WHERE into_fingerprint = @from',
    'INSERT OR REPLACE INTO group_alias (fingerprint, into_fingerprint) VALUES (@from, @into)',
  ].map((step) => db.prepare<{ from: string; into: string }>(step))
  return {
    /** Whether both are there. */
    has: (from: string, into: string): boolean => has.get(from, into)?.count === 2,
    run: (from: string, into: string): void => {
      for (const step of steps) step.run({ from, into })
    },
  }
}

/** Keeping what a group was, and going back to it. */
export function prepareUnmerge(db: Db) {
  const group = db.prepare<[string], Omit<SavedGroup, 'sites' | 'releases' | 'minutes' | 'people' | 'lastOccurrenceId'>>(
    `SELECT service, grouping, trace_digest AS traceDigest, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count, severity_number AS severityNumber, left_out AS leftOut FROM fault_group WHERE fingerprint = ?`,
  )
  const last = db.prepare<[], { id: number | null }>('SELECT max(occurrence_id) AS id FROM occurrence')
  const sites = db.prepare<[string, string], OwnedSite>(
    'SELECT place, release, position, file, fingerprint FROM fault_site WHERE fingerprint IN (?, ?)',
  )
  const releases = db.prepare<[string], SavedGroup['releases'][number]>(
    'SELECT release, environment, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs, count FROM fault_release WHERE fingerprint = ?',
  )
  const minutes = db.prepare<[string], SavedGroup['minutes'][number]>(
    `SELECT minute, environment, count FROM fault_minute WHERE fingerprint = ? ORDER BY minute DESC LIMIT ${MINUTES_MAX}`,
  )
  const people = db.prepare<[string], { person: string }>(`SELECT person FROM fault_person WHERE fingerprint = ? LIMIT ${PEOPLE_MAX}`)
  const keep = db.prepare('INSERT OR REPLACE INTO merged_group (fingerprint, into_fingerprint, saved) VALUES (@from, @into, @saved)')
  const saved = db.prepare<[string], { into_fingerprint: string; saved: string }>(
    'SELECT into_fingerprint, saved FROM merged_group WHERE fingerprint = ?',
  )
  const forget = db.prepare('DELETE FROM merged_group WHERE fingerprint = ?')
  const inner = db.prepare<[string], { fingerprint: string }>(
    `WITH RECURSIVE gone (fingerprint) AS (SELECT fingerprint FROM merged_group WHERE into_fingerprint = ? UNION SELECT m.fingerprint FROM merged_group m JOIN gone g ON m.into_fingerprint = g.fingerprint)
    SELECT fingerprint FROM gone`,
  )
  const dropAlias = db.prepare('DELETE FROM group_alias WHERE fingerprint = ?')
  const redirect = db.prepare('UPDATE group_alias SET into_fingerprint = @into WHERE fingerprint = @fingerprint')
  const dropSites = db.prepare('DELETE FROM fault_site WHERE fingerprint = ?')
  const readSites = db.prepare<[string], OwnedSite & { site: string }>(
    'SELECT place, release, position, file, fingerprint, site FROM fault_site WHERE fingerprint = ?',
  )
  const putSite = db.prepare(
    'INSERT OR REPLACE INTO fault_site (place, release, position, file, fingerprint, site) VALUES (@place, @release, @position, @file, @fingerprint, @site)',
  )
  const putGroup = db.prepare(
    `INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, count, severity_number, left_out)
    VALUES (@from, @service, @grouping, @traceDigest, @firstAtMs, @lastAtMs, 0, @severityNumber, 0)`,
  )
  const moved = db.prepare<{ from: string; upTo: number }, { count: number }>(
    'SELECT count(*) AS count FROM occurrence WHERE fingerprint = @from AND occurrence_id <= CAST(@upTo AS INTEGER)',
  )
  const shift = db.prepare(
    'UPDATE fault_group SET count = max(0, count + @count), left_out = max(0, left_out + @leftOut) WHERE fingerprint = @fingerprint',
  )
  const putPerson = db.prepare('INSERT OR IGNORE INTO fault_person (fingerprint, person) VALUES (@from, @person)')
  const countedRelease = db.prepare<object, { count: number }>(
    'SELECT count(*) AS count FROM occurrence WHERE fingerprint = @from AND release = @release AND environment = @environment AND occurrence_id <= CAST(@upTo AS INTEGER)',
  )
  const shiftRelease =
    db.prepare(`INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count) VALUES (@fingerprint, @release, @environment, @firstAtMs, @lastAtMs, max(0, @count))
    ON CONFLICT (fingerprint, release, environment) DO UPDATE SET count = max(0, count + @count)`)
  const countedMinutes = db.prepare<object, { minute: number; environment: string; count: number }>(
    'SELECT at_ms / 60000 AS minute, environment, count(*) AS count FROM occurrence WHERE fingerprint = @from AND occurrence_id <= CAST(@upTo AS INTEGER) GROUP BY 1, 2',
  )
  const shiftMinute =
    db.prepare(`INSERT INTO fault_minute (fingerprint, minute, environment, count) VALUES (@fingerprint, @minute, @environment, max(0, @count))
    ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = max(0, count + @count)`)
  const days = [
    'DELETE FROM fault_minute WHERE fingerprint IN (@from, @into) AND count = 0',
    'DELETE FROM fault_release WHERE fingerprint IN (@from, @into) AND count = 0',
    'DELETE FROM fault_day WHERE fingerprint IN (@from, @into)',
    'INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute WHERE fingerprint IN (@from, @into) GROUP BY 1, 2',
  ].map((step) => db.prepare<{ from: string; into: string }>(step))

  return {
    /** Keeps what a group is, before it goes into another. */
    save: (from: string, into: string): void => {
      const row = group.get(from)
      if (!row) return
      const whole: SavedGroup = {
        ...row,
        lastOccurrenceId: last.get()?.id ?? 0,
        sites: sites.all(from, into),
        releases: releases.all(from),
        minutes: minutes.all(from),
        people: people.all(from).map(({ person }) => person),
      }
      keep.run({ from, into, saved: JSON.stringify(whole) })
    },
    saved: (from: string): { into: string; group: SavedGroup } | null => {
      const row = saved.get(from)
      return row ? { into: row.into_fingerprint, group: JSON.parse(row.saved) as SavedGroup } : null
    },
    /** Puts the group and its sites back, without occurrences yet; sites that came since are forgotten, to be found anew. */
    begin: (from: string, into: string, before: SavedGroup): void => {
      const known = new Map(readSites.all(into).map((site) => [siteId(site), site.site]))
      dropSites.run(into)
      for (const site of before.sites) {
        const text = known.get(siteId(site))
        if (text !== undefined) putSite.run({ ...site, site: text })
      }
      putGroup.run({ from, ...before, sites: undefined, releases: undefined, minutes: undefined, people: undefined })
      for (const person of before.people) putPerson.run({ from, person })
      dropAlias.run(from)
      for (const { fingerprint } of inner.all(from)) redirect.run({ fingerprint, into: from })
      forget.run(from)
    },
    /** Gives back what was counted for the group and is not kept any more, or never was. */
    finish: (from: string, into: string, before: SavedGroup): void => {
      const upTo = before.lastOccurrenceId
      const lost = Math.max(0, before.count - (moved.get({ from, upTo })?.count ?? 0))
      shift.run({ fingerprint: from, count: lost, leftOut: before.leftOut })
      shift.run({ fingerprint: into, count: -lost, leftOut: -before.leftOut })
      for (const row of before.releases) {
        const rest = row.count - (countedRelease.get({ from, upTo, release: row.release, environment: row.environment })?.count ?? 0)
        if (rest <= 0) continue
        shiftRelease.run({ ...row, fingerprint: from, count: rest })
        shiftRelease.run({ ...row, fingerprint: into, count: -rest })
      }
      const counted = new Map(countedMinutes.all({ from, upTo }).map((row) => [`${row.minute}\n${row.environment}`, row.count]))
      for (const row of before.minutes) {
        const rest = row.count - (counted.get(`${row.minute}\n${row.environment}`) ?? 0)
        if (rest <= 0) continue
        shiftMinute.run({ ...row, fingerprint: from, count: rest })
        shiftMinute.run({ ...row, fingerprint: into, count: -rest })
      }
      for (const step of days) step.run({ from, into })
    },
  }
}

function siteId({ place, release, position, file }: Omit<OwnedSite, 'fingerprint'>): string {
  return `${place}\n${release}\n${position}\n${file}`
}
