// Of readCalendar; reads the table; at most 200 rows.
export const LIST_MILESTONE =
  'SELECT project, name, due_on FROM milestone WHERE due_on IS NOT NULL AND is_closed = 0 ORDER BY project, due_on LIMIT 200'
