// Of placeOf; reads the table; one row.
export const GET_PROJECT_OF_SERVICE_BY_REPOSITORY = 'SELECT project FROM service WHERE repository = @repository ORDER BY name LIMIT 1'

// Of placeOf; by the primary key; one row.
export const GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT =
  'SELECT name FROM component WHERE repository = @repository AND project = @project ORDER BY path_prefix IS NOT NULL, name LIMIT 1'

// Of logFailingTests; by the primary key; one row.
export const GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY = 'SELECT main_branch FROM repository WHERE name = @repository'

// Of logFailingTests; by the primary key; one row.
export const GET_BUILD_BY_REPOSITORY_AND_BUILD = 'SELECT branch, state FROM build WHERE repository = @repository AND number = @build'

// Of logFailingTests; by the primary key; one row.
export const GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER =
  'SELECT outcome FROM test_result WHERE repository = @repository AND build = @number AND suite = @suite AND name = @name'
