// Of valuesOfRow; by link_from; one row.
export const GET_TO_ID_OF_LINK_ASSERTION_BY_KEY = `SELECT to_id FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @key AND to_kind = 'requirement' AND retracted_at_ms IS NULL LIMIT 1`
