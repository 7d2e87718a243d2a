import { BUILD_COLUMNS } from '#subjects/code/index'

// Of listMainLines; by the primary key.
export const LIST_MAIN_BRANCH = `SELECT name AS repository, main_branch AS branch FROM repository
    WHERE disconnected_at_ms IS NULL AND name NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY name`

// Of listMainLines and readBadge; by the primary key, from the newest back; at most 200 rows of a repository.
export const LIST_ENDED_BUILD_OF_BRANCH = `SELECT ${BUILD_COLUMNS} FROM build
    WHERE repository = @repository AND branch = @branch AND state IN ('passed', 'broke')
    ORDER BY number DESC LIMIT 200` as const

// Of listMainLines; by the primary key.
export const LIST_TAKEN_OF_BRANCH = `SELECT DISTINCT person_id AS personId FROM failure_taken
    WHERE repository = @repository AND branch = @branch AND person_id IS NOT NULL ORDER BY person_id LIMIT 10`

// Of listMainLines; by the primary key; one row for each commit of the gap.
export const LIST_AUTHOR_OF_COMMITS = `SELECT DISTINCT c.author_name AS author FROM json_each(@shas) s
    JOIN git_commit c ON c.repository = @repository AND c.sha = s.value ORDER BY c.author_name LIMIT 5`

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
export const LIST_BUILD_STEPS = `
    SELECT step, name, parent, started_at_ms AS startedAtMs, finished_at_ms AS finishedAtMs, outcome FROM build_step
    WHERE repository = @repository AND build = @number ORDER BY coalesce(started_at_ms, finished_at_ms), step`

// Of readBuild; by the primary key.
export const LIST_COVERAGE = `SELECT path, covered_count AS covered, missed_count AS missed, missed AS missedLines FROM coverage
    WHERE repository = @repository AND build = @number ORDER BY path`

// Of listArtefacts; by the index of versions for those that bear one, and over the repository's for those that name the commit alone.
export const LIST_ARTEFACT_OF_RELEASE = `SELECT purl, name, version, state, sbom, at_ms AS atMs, count(*) OVER () AS total FROM artefact
  WHERE repository = @repository AND (version IN (@release, @tag) OR instr(purl, @sha) > 0)
  ORDER BY at_ms DESC, purl LIMIT 100`
