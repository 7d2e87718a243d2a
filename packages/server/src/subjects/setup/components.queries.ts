// Of addComponent; by the primary key; one row.
export const HAS_REPOSITORY_BY_REPOSITORY = 'SELECT 1 FROM repository WHERE name = @repository'

// Of addComponent and removeComponent; by the primary key; one row.
export const GET_COMPONENT = `SELECT keeper_id AS keeperId, repository, path_prefix AS pathPrefix FROM component
  WHERE project = @project AND name = @name`
