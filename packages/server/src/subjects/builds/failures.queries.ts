import { BUILD_COLUMNS, NAME_OF_BUILD } from '#subjects/code/index'

// Of failuresOf; by the primary key; at most 500 rows.
export const LIST_FAILED_TESTS = `SELECT suite, name, outcome, message, verifies FROM test_result
    WHERE repository = @repository AND build = @number AND outcome IN ('failed', 'flaky') ORDER BY suite, name LIMIT 500`

// Of failuresOf; by the primary key, from the build back; at most @limit rows.
export const LIST_BUILDS_OF_BRANCH = `SELECT ${BUILD_COLUMNS} FROM build
    WHERE repository = @repository AND number <= @number AND branch = @branch AND state <> 'running'
    ORDER BY number DESC LIMIT @limit` as const

// Of stripOf; by the primary key; one row for each of the builds.
export const LIST_OUTCOMES_OF_TEST = `SELECT t.build AS number, t.outcome FROM json_each(@numbers) n
    CROSS JOIN test_result t ON t.repository = @repository AND t.build = n.value AND t.suite = @suite AND t.name = @name`

// Of breakOf; by the primary keys: one look for each of the newest builds of a repository, of whichever branch.
export const LIST_COMMITS_WHERE_PASSED = `SELECT b.sha FROM (SELECT number, sha FROM build
      WHERE repository = @repository AND number < @number ORDER BY number DESC LIMIT @limit) b
    CROSS JOIN test_result t ON t.repository = @repository AND t.build = b.number AND t.suite = @suite AND t.name = @name
    WHERE t.outcome = 'passed' ORDER BY b.number DESC`

// Of failuresOf; by the primary key; one row.
export const GET_FAILURE_TAKEN = `SELECT person_id AS personId, note, at_ms AS atMs FROM failure_taken
    WHERE repository = @repository AND branch = @branch AND suite = @suite AND name = @name`

// Of readFailures; by the primary keys: one look for each test that is set aside in a repository.
export const LIST_FAILED_ASIDE = `SELECT a.suite, a.name, a.until_day AS until, a.why, a.by, a.at_ms AS atMs, t.message
    FROM test_aside a CROSS JOIN test_result t ON t.repository = @repository AND t.build = @number AND t.suite = a.suite AND t.name = a.name
    WHERE a.repository = @repository AND a.until_day >= @today AND t.outcome = 'failed' ORDER BY a.suite, a.name`

// Of readTestRecord; by the primary key; one row.
export const GET_TEST_ASIDE = `SELECT suite, name, until_day AS until, why, by, at_ms AS atMs FROM test_aside
    WHERE repository = @repository AND suite = @suite AND name = @name AND until_day >= @today`

// Of listAside; reads the table, which holds what people set aside by hand.
export const LIST_TEST_ASIDE = `SELECT repository, suite, name, until_day AS until, why, by, at_ms AS atMs FROM test_aside
    WHERE until_day >= @today AND repository NOT IN (SELECT value FROM json_each(@hidden))
      ORDER BY until_day, repository, suite, name LIMIT 500`

// Of readTestRecord; by the primary keys: one look for each of the newest builds.
export const LIST_RECORD_OF_TEST =
  `SELECT b.number, b.name AS build, b.branch, b.started_at_ms AS atMs, t.outcome, t.duration_ms AS durationMs, t.message, t.verifies,
      t.file, t.host, t.position
    FROM (SELECT ${BUILD_COLUMNS} FROM build WHERE repository = @repository ORDER BY number DESC LIMIT @builds) b
      CROSS JOIN test_result t ON t.repository = @repository AND t.build = b.number AND t.suite = @suite AND t.name = @name
      ORDER BY b.number DESC` as const

// Of nameBefore; by the index of builds by branch and number, backwards; the newest of a branch with results before
// one. One of very many tests is not held against another for a name.
export const GET_BUILD_WITH_TESTS_BEFORE = `SELECT b.number FROM build b
    WHERE b.repository = @repository AND b.number < @number AND b.branch = @branch
      AND b.passed + b.failed + b.skipped BETWEEN 1 AND 20000 ORDER BY b.number DESC LIMIT 1`

// Of nameBefore; by the primary key: the tests of one build that another has not.
export const LIST_TEST_OF_ONE_ALONE = `SELECT t.suite, t.name FROM test_result t WHERE t.repository = @repository AND t.build = @number
    AND NOT EXISTS (SELECT 1 FROM test_result o
      WHERE o.repository = t.repository AND o.build = @other AND o.suite = t.suite AND o.name = t.name)
    ORDER BY t.suite, t.name LIMIT 500`

// Of readFailures; by the primary key; one row for each suspect.
export const LIST_ADDRESS_OF_AUTHORS = `SELECT DISTINCT c.author_email AS email FROM json_each(@shas) s
    JOIN git_commit c ON c.repository = @repository AND c.sha = s.value`

// Of readFailure; by the primary key; one row.
export const GET_FAILED_TEST = `SELECT message, file FROM test_result
    WHERE repository = @repository AND build = @number AND suite = @suite AND name = @name AND outcome IN ('failed', 'flaky')`

// Of readFailure; by the index of builds by commit; the other builds of a commit, at most 20.
export const LIST_ATTEMPT = `SELECT b.number,
    ${NAME_OF_BUILD} AS name, t.outcome FROM build b
    CROSS JOIN test_result t ON t.repository = b.repository AND t.build = b.number AND t.suite = @suite AND t.name = @name
    WHERE b.repository = @repository AND b.sha = @sha AND b.number <> @number ORDER BY b.number DESC LIMIT 20`
