// Of takeTimeBack; by the primary key; one row.
export const GET_TIME_ENTRY_BY_ENTRY_ID = 'SELECT item_key, person_id, minutes, taken_back_at_ms FROM time_entry WHERE entry_id = @entryId'

// Of listTime; by time_entry_item; at most 500 rows.
export const LIST_TIME_ENTRY_BY_KEY = `SELECT entry_id AS entryId, item_key AS itemKey, person_id AS personId,
    minutes, on_day AS "on", provenance, at_ms AS atMs FROM time_entry
    WHERE item_key = @key AND taken_back_at_ms IS NULL ORDER BY at_ms LIMIT 500`
