import { restoreException, type StoredException } from '../adapters/otlp/trace-content.js'
import type { Db } from '../db/open.js'

const TRACES_MAX = 5000

interface StoredTrace {
  digest: string
  stacktrace: string
  type: string
  message: string
}

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
    'INSERT OR IGNORE INTO fault_person (fingerprint, person) SELECT @into, person FROM fault_person WHERE fingerprint = @from',
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

/** Reading and moving a part of a group, its counters with it. */
export function prepareSplit(db: Db) {
  const one = db.prepare<[number], StoredException & { fingerprint: string; release: string; service: string; digest: string }>(
    `SELECT o.fingerprint, o.release, g.service, o.message, o.attributes, o.trace_digest AS digest, t.stacktrace, t.is_head_cut FROM occurrence o
    JOIN fault_group g ON g.fingerprint = o.fingerprint JOIN trace t ON t.digest = o.trace_digest WHERE o.occurrence_id = ?`,
  )
  const traces = db.prepare<[string, string], StoredException & { digest: string }>(
    `SELECT o.trace_digest AS digest, o.message, o.attributes, t.stacktrace, t.is_head_cut FROM occurrence o JOIN trace t ON t.digest = o.trace_digest
    WHERE o.fingerprint = ? AND o.release = ? GROUP BY o.trace_digest LIMIT ${TRACES_MAX}`,
  )
  const counts = db.prepare<{ from: string; release: string; digests: string }, { all: number; moving: number }>(
    `SELECT count(*) AS "all", sum(release = @release AND trace_digest IN (SELECT value FROM json_each(@digests))) AS moving FROM occurrence WHERE fingerprint = @from`,
  )
  const moving = 'FROM occurrence WHERE fingerprint = @from AND release = @release AND trace_digest IN (SELECT value FROM json_each(@digests))'
  const steps = [
    `INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
      SELECT @to, release, environment, min(at_ms), max(at_ms), count(*) ${moving} GROUP BY release, environment`,
    `UPDATE fault_release SET count = max(0, count - (SELECT count(*) ${moving} AND environment = fault_release.environment)) WHERE fingerprint = @from AND release = @release`,
    `INSERT INTO fault_minute (fingerprint, minute, environment, count) SELECT @to, at_ms / 60000, environment, count(*) ${moving} GROUP BY at_ms / 60000, environment`,
    `UPDATE fault_minute SET count = max(0, count - coalesce((SELECT m.count FROM fault_minute m WHERE m.fingerprint = @to AND m.minute = fault_minute.minute AND m.environment = fault_minute.environment), 0))
      WHERE fingerprint = @from AND minute IN (SELECT minute FROM fault_minute WHERE fingerprint = @to)`,
    `INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms, count, severity_number)
      SELECT @to, g.service, g.grouping, @digest, (SELECT min(at_ms) ${moving}), (SELECT max(at_ms) ${moving}), (SELECT count(*) ${moving}), g.severity_number FROM fault_group g WHERE g.fingerprint = @from`,
    `UPDATE fault_group SET count = max(0, count - (SELECT count(*) ${moving})) WHERE fingerprint = @from`,
    'DELETE FROM fault_release WHERE fingerprint = @from AND count = 0',
    'DELETE FROM fault_minute WHERE fingerprint = @from AND count = 0',
    'DELETE FROM fault_day WHERE fingerprint IN (@from, @to)',
    'INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute WHERE fingerprint IN (@from, @to) GROUP BY 1, 2',
    `UPDATE occurrence SET fingerprint = @to WHERE fingerprint = @from AND release = @release AND trace_digest IN (SELECT value FROM json_each(@digests))`,
  ].map((step) => db.prepare<{ from: string; to: string; release: string; digests: string; digest: string }>(step))
  const plain = <Row extends StoredException>(row: Row) => ({ ...row, ...restoreException(row) })
  return {
    occurrence: (occurrenceId: number) => {
      const row = one.get(occurrenceId)
      return row && plain(row)
    },
    /** The different traces of a group in one release. */
    traces: (fingerprint: string, release: string): StoredTrace[] => traces.all(fingerprint, release).map(plain),
    /** Moves the occurrences with these traces; false where that would be all of them, or none. */
    move: (from: { fingerprint: string; release: string; digest: string }, digests: readonly string[], to: string): boolean => {
      const list = JSON.stringify(digests)
      const count = counts.get({ from: from.fingerprint, release: from.release, digests: list })
      if (!count?.moving || count.moving === count.all) return false
      for (const step of steps) step.run({ from: from.fingerprint, to, release: from.release, digests: list, digest: from.digest })
      return true
    },
  }
}

/** The groups of a service that one release has met, each with the newest trace of that release. */
export function prepareGroupsOf(db: Db) {
  const rows = db.prepare<{ service: string; release: string }, StoredException & { fingerprint: string }>(
    `SELECT g.fingerprint, o.message, o.attributes, t.stacktrace, t.is_head_cut FROM fault_group g
    JOIN occurrence o ON o.occurrence_id = (SELECT max(n.occurrence_id) FROM occurrence n WHERE n.fingerprint = g.fingerprint AND n.release = @release)
    JOIN trace t ON t.digest = o.trace_digest WHERE g.service = @service ORDER BY g.first_at_ms, g.fingerprint LIMIT ${TRACES_MAX}`,
  )
  return (service: string, release: string): (StoredTrace & { fingerprint: string })[] =>
    rows.all({ service, release }).map((row) => ({ ...row, ...restoreException(row), digest: '' }))
}
