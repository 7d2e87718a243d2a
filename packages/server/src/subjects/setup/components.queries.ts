// Of addComponent; by the primary key; one row.
export const HAS_REPOSITORY_BY_REPOSITORY = 'SELECT 1 FROM repository WHERE name = @repository'
