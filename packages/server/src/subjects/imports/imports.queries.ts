// Of worldOf; reads the table; at most 5000 rows.
export const LIST_PERSON = 'SELECT person_id, name, email FROM person ORDER BY name LIMIT 5000'

// Of worldOf; by component_name.
export const LIST_COMPONENT = 'SELECT name FROM component ORDER BY name'
