// Of keepUnplaced.
export const INSERT_UNPLACED = 'INSERT INTO unplaced_event (at_ms, sender, project, data) VALUES (@nowMs, @sender, @project, @data)'

// Of keepUnplaced; by the primary key.
export const DELETE_OLD_UNPLACED = `DELETE FROM unplaced_event WHERE unplaced_id <= (SELECT max(unplaced_id) FROM unplaced_event) - @kept`

// Of placeKept; by the primary key; at most @limit rows.
export const LIST_UNPLACED_AFTER =
  'SELECT unplaced_id, sender, project, data FROM unplaced_event WHERE unplaced_id > @after ORDER BY unplaced_id LIMIT @limit'

// Of countUnplaced; reads the table, which is bounded.
export const COUNT_UNPLACED = 'SELECT count(*) AS count FROM unplaced_event WHERE unplaced_id > 0'

// Of placeKept; by the primary key; one row.
export const DELETE_UNPLACED = 'DELETE FROM unplaced_event WHERE unplaced_id = @unplacedId'
