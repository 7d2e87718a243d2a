import type { Statement } from 'better-sqlite3'
import type { Db } from '#platform/db/open'

export type VolumeWrite =
  | 'trace'
  | 'resource'
  | 'isKept'
  | 'occurrence'
  | 'group'
  | 'release'
  | 'minute'
  | 'day'
  | 'activity'
  | 'traffic'
  | 'person'
  | 'change'
  | 'trail'

/** Everything that the intake writes, prepared once. */
export function prepareVolumeWrites(db: Db): Record<VolumeWrite, Statement<[object]>> {
  return {
    trace: db.prepare('INSERT OR IGNORE INTO trace (digest, stacktrace, is_head_cut) VALUES (@digest, @stacktrace, @isHeadCut)'),
    resource: db.prepare('INSERT OR IGNORE INTO resource (digest, attributes) VALUES (@digest, @attributes)'),
    isKept: db.prepare<{ recordHash: string }>('SELECT 1 FROM occurrence WHERE record_hash = @recordHash'),
    occurrence: db.prepare(`INSERT OR IGNORE INTO occurrence
      (fingerprint, at_ms, received_at_ms, release, environment, severity_number, message, trace_digest,
        resource_digest, attributes, trace_id, record_hash)
      VALUES (@fingerprint, @atMs, @receivedAtMs, @release, @environment, @severityNumber, @message, @traceDigest,
        @resourceDigest, @attributes, @traceId, @recordHash)`),
    group: db.prepare(`INSERT INTO fault_group (fingerprint, service, grouping, trace_digest, first_at_ms, last_at_ms,
        count, severity_number, left_out)
      VALUES (@fingerprint, @service, @grouping, @digest, @firstAtMs, @lastAtMs, @count, @severityNumber, @leftOut)
      ON CONFLICT (fingerprint) DO UPDATE SET first_at_ms = min(first_at_ms, excluded.first_at_ms),
        last_at_ms = max(last_at_ms, excluded.last_at_ms), count = count + excluded.count,
        severity_number = max(severity_number, excluded.severity_number), left_out = left_out + excluded.left_out`),
    release: db.prepare(`INSERT INTO fault_release (fingerprint, release, environment, first_at_ms, last_at_ms, count)
        VALUES (@fingerprint, @release, @environment, @firstAtMs, @lastAtMs, @count)
      ON CONFLICT (fingerprint, release, environment) DO UPDATE
        SET first_at_ms = min(first_at_ms, excluded.first_at_ms), last_at_ms = max(last_at_ms, excluded.last_at_ms),
        count = count + excluded.count`),
    minute:
      db.prepare(`INSERT INTO fault_minute (fingerprint, minute, environment, count) VALUES (@fingerprint, @minute, @environment, @count)
      ON CONFLICT (fingerprint, minute, environment) DO UPDATE SET count = count + excluded.count`),
    day: db.prepare(
      `INSERT INTO fault_day (fingerprint, day, count) VALUES (@fingerprint, @day, @count)
        ON CONFLICT (fingerprint, day) DO UPDATE SET count = count + excluded.count`,
    ),
    activity: db.prepare(`INSERT INTO activity_minute (service, minute, release, environment, count, last_at_ms)
        VALUES (@service, @minute, @release, @environment, @count, @lastAtMs)
      ON CONFLICT (service, minute, release, environment) DO UPDATE
        SET count = count + excluded.count, last_at_ms = max(last_at_ms, excluded.last_at_ms)`),
    traffic:
      db.prepare(`INSERT INTO traffic_value (service, attribute, hour, value, count) VALUES (@service, @attribute, @hour, @value, @count)
      ON CONFLICT (service, attribute, hour, value) DO UPDATE SET count = count + excluded.count`),
    person: db.prepare(`INSERT INTO fault_person (fingerprint, person, first_minute) VALUES (@fingerprint, @person, @firstMinute)
      ON CONFLICT (fingerprint, person) DO UPDATE SET first_minute = excluded.first_minute WHERE excluded.first_minute < first_minute`),
    change: db.prepare('INSERT INTO group_change (fingerprint) VALUES (@fingerprint)'),
    trail: db.prepare(`INSERT OR IGNORE INTO trail_record
        (trace_id, mark, kind, service, parent, at_ms, end_ms, severity_number, name, detail, received_at_ms)
      VALUES (@traceId, @mark, @kind, @service, @parent, @atMs, @endMs, @severityNumber, @name, @detail, @receivedAtMs)`),
  }
}
