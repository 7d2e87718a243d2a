import { BUILD_COLUMNS } from '#subjects/code/index'

// Of listBuilds; at most @limit rows.
export const LIST_BUILD_BY_REPOSITORY = `SELECT ${BUILD_COLUMNS} FROM build
    WHERE (@repository IS NULL OR repository = @repository) AND (-started_at_ms, repository, number) > (@a, @b, @c)
    AND +repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY started_at_ms DESC, repository, number LIMIT @limit` as const

// Of readBuild; one row.
export const GET_BUILD_BY_REPOSITORY_AND_NUMBER =
  `SELECT ${BUILD_COLUMNS} FROM build WHERE repository = @repository AND number = @number` as const

// Of readBuild; by the primary key.
export const LIST_TEST_RESULT_BY_REPOSITORY_AND_NUMBER = `SELECT suite, name, outcome, duration_ms, message, verifies FROM test_result
    WHERE repository = @repository AND build = @number ORDER BY outcome = 'passed', suite, name`

// Of readBuild; by pull_request_head; one row.
export const GET_NUMBER_OF_PULL_REQUEST_BY_REPOSITORY_AND_BRANCH =
  'SELECT number FROM pull_request WHERE repository = @repository AND head = @branch ORDER BY number DESC LIMIT 1'

// Of readBuild; by the primary key; one row.
export const COUNT_BUILD_BY_REPOSITORY_AND_NUMBER = `SELECT count(*) AS count FROM build
    WHERE repository = @repository AND state = 'passed' AND number < @number
    AND number > coalesce((SELECT max(number) FROM build
    WHERE repository = @repository AND state = 'broke' AND number < @number), 0)`

// Of readBuild; by the primary key.
export const LIST_BUILD_STEPS = `SELECT name, started_at_ms AS startedAtMs, finished_at_ms AS finishedAtMs, outcome FROM build_step
    WHERE repository = @repository AND build = @number ORDER BY coalesce(started_at_ms, finished_at_ms), step`

// Of readBuild; by the primary key.
export const LIST_COVERAGE = `SELECT path, covered_count AS covered, missed_count AS missed, missed AS missedLines FROM coverage
    WHERE repository = @repository AND build = @number ORDER BY path`
