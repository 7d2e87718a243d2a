// Of listHeld; by the primary key.
export const LIST_IN_HAND_BY_PERSON_ID = `SELECT item_key, taken_at_ms, parked_at_ms, branch, worked_ms, offered_ms
  FROM in_hand WHERE person_id = @personId
    ORDER BY parked_at_ms IS NOT NULL, parked_at_ms DESC, item_key`

// Of branchOf; by link_from; one row.
export const GET_TO_ID_OF_LINK_ASSERTION_BY_KEY = `SELECT to_id FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @key AND to_kind = 'branch' AND retracted_at_ms IS NULL
  ORDER BY at_ms DESC LIMIT 1`
