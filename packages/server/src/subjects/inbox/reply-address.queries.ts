// Of readReplyAddress; by notice_by_item; at most 1000 rows.
export const LIST_NOTICE_BY_KEY =
  'SELECT DISTINCT person_id FROM notice INDEXED BY notice_by_item WHERE item_key = @key ORDER BY person_id LIMIT 1000'

// Of readReportToken; by the primary key; one row.
export const GET_CAME_FROM_OF_ITEM_BY_KEY = 'SELECT came_from FROM item WHERE key = @key'
