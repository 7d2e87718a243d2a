// Of proposeFromFault; reads the table; one row.
export const GET_PERSON_BY_NAME = 'SELECT person_id, name FROM person WHERE name = @name'

// Of requirementsOf; by link_to and the primary key.
export const LIST_LINK_ASSERTION_BY_ITEM = `SELECT DISTINCT l.to_id AS value, r.title AS label FROM link_assertion l
    JOIN requirement r ON r.key = l.to_id
    WHERE l.from_kind = 'item' AND l.from_id = @item AND l.to_kind = 'requirement' AND l.retracted_at_ms IS NULL ORDER BY l.to_id`

// Of proposeRequirements; by the primary key; one row.
export const GET_TITLE_OF_REQUIREMENT_BY_KEY = 'SELECT title FROM requirement WHERE key = @key'

// Of proposeKeepers; by component_name; one row.
export const GET_KEEPER_ID_OF_COMPONENT_BY_COMPONENT = 'SELECT keeper_id FROM component WHERE name = @component'

// Of proposeMilestone; by the primary key; at most 2 rows.
export const LIST_MILESTONE_BY_PROJECT_AND_TODAY =
  'SELECT name, due_on FROM milestone WHERE project = @project AND is_closed = 0 AND due_on >= @today ORDER BY due_on, name LIMIT 2'
