// Of projectOfMail; reads the table.
export const LIST_PREFIX_OF_PROJECT = 'SELECT prefix FROM project ORDER BY prefix'

// Of readPublicForm; by the primary key; one row.
export const GET_NAME_OF_PROJECT_BY_PROJECT = 'SELECT name FROM project WHERE prefix = @project'

// Of readPublicForm; by the primary key.
export const LIST_COMPONENT_BY_PROJECT = 'SELECT name FROM component WHERE project = @project ORDER BY name'
