// Of setEnvironment and removeEnvironment; by the primary key; one row.
export const GET_ENVIRONMENT_BY_NAME = 'SELECT kind, needs_approval, position FROM environment WHERE name = @name'

// Of removeEnvironment; reads the table; one row.
export const HAS_DEPLOYMENT_BY_ENVIRONMENT = 'SELECT 1 FROM deployment WHERE environment = @name LIMIT 1'

// Of touchReleased; reads the table.
export const LIST_REPOSITORY_OF_SERVICE = 'SELECT DISTINCT repository FROM service ORDER BY repository'

// Of seeEnvironment; reads the table, which has a row for each environment.
export const GET_LAST_POSITION = 'SELECT max(position) AS position FROM environment'
