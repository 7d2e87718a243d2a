// Of listMergesWaiting; reads the table, which has a row for each change that waits: tens.
export const LIST_WAITING = `SELECT repository, number, by, method, at_ms AS atMs FROM merge_wish
  WHERE repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY repository, at_ms, number LIMIT 500`
