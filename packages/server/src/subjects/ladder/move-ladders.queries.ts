// Of moveLadder; by the primary key; one row.
export const GET_ITEM_BY_KEY = 'SELECT ladder, stage, stair FROM item WHERE key = @key'

// Of parentsOf; by link_to.
export const LIST_LINK_ASSERTION_BY_KEY = `SELECT DISTINCT to_id FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @key AND kind = 'parent' AND to_kind = 'item' AND retracted_at_ms IS NULL
  ORDER BY to_id`

// Of judgeWaitingItems; by item_waiting.
export const LIST_ITEM = `SELECT key FROM item WHERE is_open = 1 AND fault IS NOT NULL AND stage_rank IN (4, 5) ORDER BY key`
