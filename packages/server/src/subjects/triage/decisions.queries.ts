// Of readStand; by the primary key; one row.
export const GET_ITEM_BY_KEY = `SELECT accepted_at_ms, accepted_by, disposition, disposed_by, disposed_at_ms,
    asked_at_ms, asked_by, asked_until_ms, answered_at_ms, has_come_back, created_at_ms
    FROM item WHERE key = @key`

// Of mergeItem; by the primary key; one row.
export const GET_INTO_KEY_OF_ITEM_MERGE_BY_INTO = 'SELECT into_key FROM item_merge WHERE item_key = @into'

// Of splitWithin; by the primary key; one row.
export const GET_ITEM_MERGE_BY_KEY = 'SELECT into_key, assertion_ids FROM item_merge WHERE item_key = @key'
