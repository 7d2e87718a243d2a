// Of createProject; by the primary key; one row.
export const HAS_KEY_PREFIX_BY_PREFIX = 'SELECT 1 FROM key_prefix WHERE prefix = @prefix'

// Of createProject; by the primary key; one row.
export const GET_URL_OF_REPOSITORY_BY_REPOSITORY = 'SELECT url FROM repository WHERE name = @repository'

// Of connectRepository; by the primary key; one row.
export const HAS_SERVICE_BY_NAME = 'SELECT 1 FROM service WHERE name = @name'

// Of changeRepository; by the primary key; one row.
export const GET_REPOSITORY =
  'SELECT url, main_branch AS mainBranch, long_lines AS longLines, disconnected_at_ms FROM repository WHERE name = @repository'

// Of linesOf; by the primary key; one row.
export const HAS_BRANCH = 'SELECT 1 FROM git_ref WHERE repository = @repository AND ref = @ref AND deleted_at_ms IS NULL'
