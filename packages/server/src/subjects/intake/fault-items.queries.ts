/**
 * A fault's items, as a condition on `item i` with `@number`: those logged from it, and those tied to it or to a fault that went into it.
 */
export const STANDS_FOR_FAULT = `(i.fault = 'F-' || @number
  OR i.key IN (SELECT l.from_id FROM link_assertion l
  WHERE l.to_kind = 'fault' AND l.from_kind = 'item' AND l.kind = 'tied' AND l.retracted_at_ms IS NULL
  AND l.to_id IN (SELECT 'F-' || f.number FROM fault f WHERE f.number = @number OR f.merged_into = @number)))`

// Of itemsOfFault; at most 500 rows.
export const LIST_ITEM = `SELECT i.key FROM item i WHERE ${STANDS_FOR_FAULT} ORDER BY i.key LIMIT 500` as const
