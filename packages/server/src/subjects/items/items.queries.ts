// Of logWithin; by the primary key; one row.
export const HAS_PROJECT_BY_PREFIX = 'SELECT 1 FROM project WHERE prefix = @prefix'

// Of requireRequirement; by the primary key; one row.
export const GET_REVISION_OF_REQUIREMENT_BY_KEY = 'SELECT revision FROM requirement WHERE key = @key'

// Of requireComponent; by component_name; one row.
export const HAS_COMPONENT_BY_NAME = 'SELECT 1 FROM component WHERE name = @name'

// Of startItem; by the primary key; one row.
export const GET_REPOSITORY_BY_NAME = 'SELECT url, main_branch FROM repository WHERE name = @name'

// Of requireTarget; by the primary key; one row.
export const HAS_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER = 'SELECT 1 FROM pull_request WHERE repository = @repository AND number = @number'

// Of requireTarget; by the primary key; one row.
export const HAS_BRANCH = `SELECT 1 FROM git_ref WHERE repository = @repository AND ref = @ref AND deleted_at_ms IS NULL`

// Of requireTarget; by the primary key; one row.
export const HAS_GIT_COMMIT_BY_REPOSITORY_AND_SHA = 'SELECT 1 FROM git_commit WHERE repository = @repository AND sha = @sha'

// Of requireClaim; by the primary key; one row.
export const GET_CLAIM = 'SELECT by FROM claim WHERE item_key = @key AND stage = @stage'
