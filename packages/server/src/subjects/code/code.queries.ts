export const COMMIT_COLUMNS =
  'repository, sha, parents, patch_id, author_name, author_email, author_at_ms, committed_at_ms, message, reverts, files, seen_at_ms'

export const PULL_REQUEST_COLUMNS = `repository, number, title, body, state, author, head, base, head_sha, merge_sha,
  created_at_ms, updated_at_ms, version,
    is_ours, base_sha, is_draft`

// Of listRepositories; by the primary key.
export const LIST_REPOSITORY = `SELECT r.name, r.url, r.main_branch, r.long_lines, r.disconnected_at_ms, s.fetched_at_ms,
  s.trouble, s.retry_at_ms
    FROM repository r LEFT JOIN repository_state s ON s.repository = r.name
      WHERE r.name NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY r.name`

// Of listRepositories; by the primary key; at most 200 rows.
export const LIST_GIT_REF_BY_NAME = `SELECT ref, sha, moved_at_ms, forced_at_ms FROM git_ref
      WHERE repository = @name AND ref LIKE 'refs/heads/%' AND deleted_at_ms IS NULL AND sha IS NOT NULL
        ORDER BY moved_at_ms DESC LIMIT 200`

// Of findCommit; at most 10 rows.
export const LIST_GIT_COMMIT_BY_PREFIX_AND_REPOSITORY = `SELECT ${COMMIT_COLUMNS} FROM git_commit
    WHERE sha >= @prefix AND sha < @prefix || 'g' AND (@repository IS NULL OR repository = @repository)
    AND repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY sha LIMIT 10` as const

// Of readCommit; by the primary key.
export const LIST_GIT_REF_BY_REPOSITORY = `SELECT ref, sha FROM git_ref
  WHERE repository = @repository AND deleted_at_ms IS NULL AND sha IS NOT NULL ORDER BY ref`

// Of readCommit; at most 500 rows.
export const LIST_PULL_REQUEST_BY_REPOSITORY =
  `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request WHERE repository = @repository ORDER BY number DESC LIMIT 500` as const

// Of readPullRequest; one row.
export const GET_GIT_COMMIT_BY_REPOSITORY_AND_SHA =
  `SELECT ${COMMIT_COLUMNS} FROM git_commit WHERE repository = @repository AND sha = @sha` as const

// Of findPullRequest.
export const LIST_PULL_REQUEST_BY_NUMBER_AND_REPOSITORY = `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request
    WHERE number = @number AND (@repository IS NULL OR repository = @repository)
    AND repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY repository` as const

// Of warmGraphs; a scan of an index, once.
export const LIST_LARGE_REPOSITORIES = 'SELECT repository FROM git_commit GROUP BY repository HAVING COUNT(*) >= @atLeast'

// Of lineTips; by the primary keys; one row for each line, the main line first.
export const LIST_LINE_TIPS = `SELECT l.value AS branch, l.value = r.main_branch AS isMain, g.sha FROM repository r
    JOIN json_each(json_insert(r.long_lines, '$[#]', r.main_branch)) l
    JOIN git_ref g ON g.repository = r.name AND g.ref = 'refs/heads/' || l.value AND g.deleted_at_ms IS NULL AND g.sha IS NOT NULL
    WHERE r.name = @repository ORDER BY isMain DESC, l.value`

// Of mainTip; by the primary key; one row.
export const GET_SHA_OF_GIT_REF_BY_REPOSITORY = `SELECT g.sha FROM git_ref g JOIN repository r ON r.name = g.repository
    WHERE g.repository = @repository AND g.ref = 'refs/heads/' || r.main_branch AND g.deleted_at_ms IS NULL`

/** What a build `b` is called. */
export const NAME_OF_BUILD = `coalesce((SELECT n.name FROM build_name n
  WHERE n.repository = b.repository AND n.number = b.number AND n.is_shown = 1), CAST(b.number AS TEXT))` as const

// Of measuredBuild; by the index of builds by branch and number, backwards; the first that measured anything.
export const GET_MEASURED_OF_BRANCH = `SELECT b.number, ${NAME_OF_BUILD} AS name FROM build b
    WHERE b.repository = @repository AND b.branch = @branch AND b.number < @before
      AND EXISTS (SELECT 1 FROM coverage c WHERE c.repository = b.repository AND c.build = b.number)
    ORDER BY b.number DESC LIMIT 1` as const

// Of coverageOfBuild; by the primary key; one row.
export const SUM_COVERAGE = `SELECT coalesce(sum(covered_count), 0) AS covered, coalesce(sum(missed_count), 0) AS missed FROM coverage
    WHERE repository = @repository AND build = @build`

// Of mainBranchOf; by the primary key; one row.
export const GET_MAIN_BRANCH = 'SELECT main_branch AS branch FROM repository WHERE name = @repository AND disconnected_at_ms IS NULL'

export const BUILD_COLUMNS = `repository, number, sha, branch, state, started_at_ms, finished_at_ms, passed, failed, skipped,
    coalesce((SELECT n.name FROM build_name n
      WHERE n.repository = build.repository AND n.number = build.number AND n.is_shown = 1), CAST(number AS TEXT)) AS
      name`

// Of latestBuild; one row.
export const GET_BUILD_BY_REPOSITORY_AND_SHA =
  `SELECT ${BUILD_COLUMNS} FROM build WHERE repository = @repository AND sha = @sha ORDER BY number DESC LIMIT 1` as const

// Of servicesTouched; reads the table.
export const LIST_SERVICE_BY_REPOSITORY = 'SELECT name, path_prefix AS folder FROM service WHERE repository = @repository ORDER BY name'

// Of servicesTouched; by the primary key.
export const LIST_GIT_COMMIT_BY_REPOSITORY_AND_PATCH_IDS = `SELECT files FROM git_commit
    WHERE repository = @repository AND patch_id IN (SELECT value FROM json_each(@patchIds)) AND patch_id IS NOT NULL`

// Of codeHostOf and of a pull request's base; by the primary key; one row.
export const GET_REPOSITORY_BY_NAME = 'SELECT url, main_branch FROM repository WHERE name = @repository'

// Of missingToMerge; by the primary key; one row.
export const HAS_BUILD_OF_REPOSITORY = 'SELECT 1 FROM build WHERE repository = @repository LIMIT 1'

// Of buildTrouble; by the primary keys: whether some test failed, and every one that did is set aside.
export const IS_BROKEN_BY_ASIDE = `SELECT 1 FROM build b WHERE b.repository = @repository AND b.number = @number AND b.failed > 0
    AND NOT EXISTS (SELECT 1 FROM test_result t
      WHERE t.repository = @repository AND t.build = @number AND t.outcome = 'failed'
      AND NOT EXISTS (SELECT 1 FROM test_aside a
        WHERE a.repository = @repository AND a.suite = t.suite AND a.name = t.name AND a.until_day >= @today))`

// Of accessOf and accessKindOf; by the primary key; one row.
export const GET_REPOSITORY_ACCESS = 'SELECT kind, user_name, public_key, sealed FROM repository_access WHERE repository = @repository'

// Of giveAccess.
export const INSERT_REPOSITORY_ACCESS = `INSERT OR REPLACE INTO repository_access (repository, kind, user_name, public_key, sealed)
    VALUES (@repository, @kind, @userName, @publicKey, @sealed)`

// Of giveAccess; by the primary key.
export const DELETE_REPOSITORY_ACCESS = 'DELETE FROM repository_access WHERE repository = @repository'

// Of keyPairFor.
export const INSERT_REPOSITORY_KEY =
  'INSERT INTO repository_key (key_id, made_by, made_at_ms, public_key, sealed) VALUES (@keyId, @madeBy, @nowMs, @publicKey, @sealed)'

// Of keyPairFor; reads the table, which keys leave after a day.
export const DELETE_OLD_REPOSITORY_KEYS = 'DELETE FROM repository_key WHERE made_at_ms < @beforeMs'

// Of openAccess; by the primary key; one row.
export const GET_REPOSITORY_KEY = 'SELECT made_by, public_key, sealed FROM repository_key WHERE key_id = @keyId'

// Of carriersOf; by pull_request's primary key; as many rows as there were merges in the gap.
export const LIST_MERGED_BY_SHAS = `SELECT ${PULL_REQUEST_COLUMNS} FROM pull_request
    WHERE repository = @repository AND merge_sha IN (SELECT value FROM json_each(@shas))` as const

// Of authorsOfCommits; by the primary key; one row for each commit.
export const LIST_AUTHORS_OF_COMMITS = `SELECT DISTINCT coalesce(known.person_id, more.person_id) AS personId FROM json_each(@shas) s
    CROSS JOIN git_commit c ON c.repository = @repository AND c.sha = s.value
    LEFT JOIN person known ON known.email = c.author_email
    LEFT JOIN person_address more ON more.email = c.author_email AND more.confirmed_at_ms IS NOT NULL
    WHERE coalesce(known.person_id, more.person_id) IS NOT NULL`

// Of newestBuildState; by the commit's index; one row.
export const GET_NEWEST_BUILD_STATE = 'SELECT state FROM build WHERE repository = @repository AND sha = @sha ORDER BY number DESC LIMIT 1'
