/** What is asked of a build. */
export interface BuildFacts {
  branch: string
  state: string
}

// Of placeOf; reads the table; one row.
export const GET_PROJECT_OF_SERVICE_BY_REPOSITORY = 'SELECT project FROM service WHERE repository = @repository ORDER BY name LIMIT 1'

// Of placeOf; by the primary key; one row.
export const GET_NAME_OF_COMPONENT_BY_REPOSITORY_AND_PROJECT =
  'SELECT name FROM component WHERE repository = @repository AND project = @project ORDER BY path_prefix IS NOT NULL, name LIMIT 1'

// Of failuresOf; by the primary key; one row.
export const GET_MAIN_BRANCH_OF_REPOSITORY_BY_REPOSITORY = 'SELECT main_branch FROM repository WHERE name = @repository'

// Of failuresOf; by the primary key; one row.
export const GET_BUILD_BY_REPOSITORY_AND_BUILD = 'SELECT branch, state FROM build WHERE repository = @repository AND number = @build'

// Of failuresOf; by the index of builds by branch and number, backwards; at most @limit rows.
export const LIST_ENDED_BUILDS_UP_TO = `
  SELECT number FROM build
  WHERE repository = @repository AND branch = @branch AND state <> 'running' AND number <= @build
  ORDER BY number DESC LIMIT @limit`

// Of failuresOf; by the primary key; at most @limit rows.
export const LIST_FAILED_TESTS = `
  SELECT suite, name, message FROM test_result
  WHERE repository = @repository AND build = @build AND outcome = 'failed' ORDER BY suite, name LIMIT @limit`

// Of failuresOf; by the primary key; one row.
export const GET_OUTCOME_OF_TEST_RESULT_BY_REPOSITORY_AND_NUMBER =
  'SELECT outcome FROM test_result WHERE repository = @repository AND build = @number AND suite = @suite AND name = @name'

// Of neverFound; by the primary key; at most one row for each finding of a report.
export const LIST_KNOWN_FINDINGS = `SELECT asked.key AS at FROM json_each(@findings) asked
    JOIN finding f ON f.repository = @repository AND f.tool = asked.value ->> 'tool' AND f.identity = asked.value ->> 'identity'`
