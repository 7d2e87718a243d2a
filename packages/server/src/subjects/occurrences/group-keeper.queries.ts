/** At most so many traces of a group are read anew at once. */
const TRACES_MAX = 5000

/** A trace as it lies in the store, with where it was met. */
export interface StoredTrace {
  fingerprint: string
  release: string
  service: string
  digest: string
  stacktrace: string
  type: string
  message: string
}

// Of group-keeper.ts: by an occurrence, by fingerprint along its index, and by the service and release of a place.
const GROUP_COLUMNS = `o.fingerprint, o.release, g.service, o.message, o.attributes, o.trace_digest AS digest, t.stacktrace, t.is_head_cut
    FROM occurrence o JOIN fault_group g ON g.fingerprint = o.fingerprint JOIN trace t ON t.digest = o.trace_digest`

export const GROUP_OCCURRENCE = `SELECT ${GROUP_COLUMNS} WHERE o.occurrence_id = CAST(@occurrenceId AS INTEGER)`

export const GROUP_TRACES_OF = `SELECT ${GROUP_COLUMNS} WHERE o.fingerprint = @fingerprint AND (@release IS NULL OR o.release = @release)
        GROUP BY o.release, o.trace_digest ORDER BY min(o.occurrence_id) LIMIT ${TRACES_MAX}`

export const GROUP_GROUPS_OF = `SELECT g.fingerprint FROM fault_group g
        WHERE g.service = @service AND EXISTS (SELECT 1 FROM occurrence o
        WHERE o.fingerprint = g.fingerprint AND o.release = @release)
      AND NOT EXISTS (SELECT 1 FROM group_word w WHERE w.fingerprint = g.fingerprint)
        ORDER BY g.first_at_ms, g.fingerprint LIMIT ${TRACES_MAX}`

export const GROUP_RELEASES_OF = `SELECT DISTINCT r.release FROM fault_release r JOIN fault_group g ON g.fingerprint = r.fingerprint
        WHERE g.service = ? ORDER BY r.first_at_ms`

export const GROUP_SAY = 'INSERT OR IGNORE INTO group_word (fingerprint) VALUES (@fingerprint)'

export const GROUP_REGROUP = 'UPDATE fault_group SET grouping = @grouping WHERE fingerprint = @fingerprint'

export const GROUP_RETRACE = 'UPDATE fault_group SET trace_digest = @digest WHERE fingerprint = @fingerprint'

export const GROUP_CHANGE = 'INSERT INTO group_change (fingerprint) VALUES (@fingerprint)'
