/** So many rows go in one transaction, so that what arrives meanwhile does not wait. */
export const PRUNE_BATCH = 5000

/** So many occurrences are looked at in one step, some tens of milliseconds. */
export const SWEEP_STEP = 20_000

// Of prune.ts: at most one batch each, along the indices of arrival and of the fingerprint; the sweep by primary key, in steps.
export const PRUNE_DELETE_OLD = `DELETE FROM occurrence
      WHERE occurrence_id IN (SELECT occurrence_id FROM occurrence
        WHERE received_at_ms < @beforeMs ORDER BY received_at_ms LIMIT ${PRUNE_BATCH})`

export const PRUNE_DELETE_TRAFFIC = `DELETE FROM traffic_value
      WHERE (service, attribute, hour, value) IN (SELECT service, attribute, hour, value FROM traffic_value
        WHERE hour < @beforeHour LIMIT ${PRUNE_BATCH})`

export const PRUNE_DELETE_TRAILS = `DELETE FROM trail_record
      WHERE (trace_id, mark) IN (SELECT trace_id, mark FROM trail_record
        WHERE received_at_ms < @beforeMs ORDER BY received_at_ms LIMIT ${PRUNE_BATCH})`

/** Where the newest so many end; nothing while there are fewer. */
export const PRUNE_GET_TRAILS_END = 'SELECT received_at_ms AS atMs FROM trail_record ORDER BY received_at_ms DESC LIMIT 1 OFFSET @max'

export const PRUNE_LIST_CROWDED = 'SELECT fingerprint FROM fault_group WHERE count - left_out > @perGroupMax'

export const PRUNE_DELETE_BEYOND = `DELETE FROM occurrence
      WHERE occurrence_id IN (SELECT occurrence_id FROM occurrence
        WHERE fingerprint = @fingerprint AND occurrence_id <= coalesce((SELECT occurrence_id FROM occurrence
          WHERE fingerprint = @fingerprint ORDER BY occurrence_id DESC LIMIT 1 OFFSET @perGroupMax), -1)
        ORDER BY occurrence_id LIMIT ${PRUNE_BATCH})`

export const SWEEP_LIST_IN_USE = `SELECT occurrence_id AS id, trace_digest AS trace, resource_digest AS resource FROM occurrence
        WHERE occurrence_id > CAST(@after AS INTEGER) ORDER BY occurrence_id LIMIT ${SWEEP_STEP}`

export const SWEEP_LIST_SHOWN = 'SELECT trace_digest AS digest FROM fault_group'

export const SWEEP_TRACES_LIST = 'SELECT digest FROM trace'

export const SWEEP_TRACES_REMOVE = 'DELETE FROM trace WHERE digest = @digest'

export const SWEEP_RESOURCES_LIST = 'SELECT digest FROM resource'

export const SWEEP_RESOURCES_REMOVE = 'DELETE FROM resource WHERE digest = @digest'
