// Of toExported; by time_entry_item; one row.
export const GET_SPENT_MINUTES =
  'SELECT coalesce(sum(minutes), 0) AS minutes FROM time_entry WHERE item_key = @key AND taken_back_at_ms IS NULL'

// Of commentsOf; by comment_item; at most 1000 rows.
export const LIST_COMMENTS_TO_EXPORT = `SELECT text, coalesce(from_address, by) AS by, at_ms AS atMs FROM comment
  WHERE item_key = @key ORDER BY at_ms, comment_id LIMIT 1000`

// Of columnsFor; reads the own fields, some dozens of rows.
export const LIST_OWN_FIELD_IDS = `SELECT DISTINCT field_id AS fieldId FROM own_field
  WHERE @readsAll = 1 OR project IN (SELECT value FROM json_each(@readable)) ORDER BY field_id`
