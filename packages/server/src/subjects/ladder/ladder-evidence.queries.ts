// Of readLadderInput; by the primary key; one row.
export const GET_ITEM_BY_KEY = `SELECT key, logged_cause, logged_by, fault, created_at_ms, accepted_at_ms,
    accepted_by, started_at_ms, started_by, disposition, disposed_at_ms, disposed_by,
    verified_at_ms, verified_by, project, baseline_stage, baseline_words, baseline_at_ms, baseline_by FROM item WHERE key = @key`

// Of readLadderInput; by the primary key.
export const LIST_CLAIM_BY_KEY = `SELECT stage, by, at_ms AS atMs, accepted_by AS acceptedBy, accepted_at_ms AS acceptedAtMs,
    accepted_words AS acceptedWords FROM claim WHERE item_key = @key ORDER BY stage`

// Of readParts; by link_to and the primary key.
export const LIST_LINK_ASSERTION_BY_KEY = `SELECT DISTINCT i.key, i.stage, i.disposition, i.has_come_back
    FROM link_assertion l JOIN item i ON i.key = l.from_id
    WHERE l.to_kind = 'item' AND l.to_id = @key AND l.kind = 'parent' AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL ORDER BY i.key`

// Of readBranches; by the primary key; one row.
export const GET_GIT_REF_BY_REPOSITORY_AND_REF =
  'SELECT deleted_at_ms, first_seen_at_ms FROM git_ref WHERE repository = @repository AND ref = @ref'

// Of pullRequestRow; by the primary key; one row.
export const GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER = `SELECT repository, number, state, author, created_at_ms, head_sha,
  merge_sha, base_sha FROM pull_request
    WHERE repository = @repository AND number = @number`

// Of readPullRequests; by the primary key; one row.
export const GET_BUILD_BY_REPOSITORY_AND_SHA = `SELECT number, state, failed, passed + failed + skipped AS total,
      coalesce((SELECT n.name FROM build_name n
        WHERE n.repository = build.repository AND n.number = build.number AND n.is_shown = 1), CAST(number AS TEXT))
        AS name FROM build
      WHERE repository = @repository AND sha = @sha ORDER BY number DESC LIMIT 1`

// Of isLive; by the primary key.
export const LIST_GIT_REF_BY_REPOSITORY =
  'SELECT sha FROM git_ref WHERE repository = @repository AND deleted_at_ms IS NULL AND sha IS NOT NULL'

// Of releasesOf; by the primary key.
export const LIST_RELEASE_BY_REPOSITORY = `SELECT r.service, r.name, r.sha, r.at_ms, s.repository FROM release r
  JOIN service s ON s.name = r.service WHERE s.repository = @repository ORDER BY r.at_ms, r.name`

// Of readProduction; reads the table; one row.
export const HAS_ENVIRONMENT = `SELECT 1 FROM environment WHERE kind = 'production' LIMIT 1`

// Of readProduction; by deployment_place and the primary key.
export const LIST_SERVICE_BY_REPOSITORY = `SELECT d.service, d.release, d.environment, d.running_at_ms, d.state, r.sha
      FROM service s JOIN deployment d ON d.service = s.name
        JOIN environment e ON e.name = d.environment AND e.kind = 'production'
        LEFT JOIN release r ON r.service = d.service AND r.name = d.release
      WHERE s.repository = @repository AND d.running_at_ms IS NOT NULL ORDER BY d.running_at_ms`

// Of readVerifyingTests; by the primary key and build_sha.
export const LIST_RELEASE_BY_SERVICE_AND_RELEASE = `SELECT t.name, t.outcome FROM release r JOIN service s ON s.name = r.service
    JOIN build b ON b.repository = s.repository AND b.sha = r.sha JOIN test_result t ON t.repository = b.repository AND t.build = b.number
    WHERE r.service = @service AND r.name = @release AND instr(t.name, @key) > 0 AND t.outcome <> 'skipped'
      AND b.number = (SELECT max(number) FROM build WHERE repository = s.repository AND sha = r.sha) ORDER BY t.name`

// Of readVerifyingTests; by the primary keys and test_done_case: the newest result that still counts, in each environment, for one release.
export const LIST_DONE_FOR_ITEM = `SELECT c.number, d.environment, d.outcome FROM test_case c CROSS JOIN json_each(c.verifies) v
  CROSS JOIN test_done d ON d.project = c.project AND d.number = c.number
  CROSS JOIN test_plan p ON p.project = d.project AND p.plan_id = d.plan_id
  WHERE c.project = @project AND c.is_retired = 0 AND v.value = @key AND p.release = @release AND d.revision = c.revision
    AND d.result_id = (SELECT o.result_id FROM test_done o
    WHERE o.project = d.project AND o.number = d.number AND o.environment = d.environment ORDER BY o.at_ms DESC, o.result_id DESC LIMIT 1)`

// Of readSilences; by the primary key; one row.
export const GET_SILENCE_MS_OF_PROJECT_BY_PROJECT = 'SELECT silence_ms FROM project WHERE prefix = @project'

// Of readSilences; by the primary key; one row.
export const GET_FAULT_BY_NUMBER = `SELECT coalesce(m.fingerprint, f.fingerprint) AS fingerprint, f.service
  FROM fault f LEFT JOIN fault m ON m.number = f.merged_into WHERE f.number = @number`

// Of readSilence; by the primary key; one row.
export const GET_FAULT_RELEASE_BY_FINGERPRINT_AND_FIXED = `SELECT release, environment, first_at_ms AS atMs FROM fault_release
    WHERE fingerprint = @fingerprint AND release IN (SELECT value FROM json_each(@fixed)) ORDER BY first_at_ms LIMIT 1`

// Of readSilence; by deployment_place and the primary key; one row.
export const GET_SINCE_MS_OF_DEPLOYMENT_BY_SERVICE_AND_FIXED = `SELECT min(d.running_at_ms) AS sinceMs
    FROM deployment d JOIN environment e ON e.name = d.environment AND e.kind = 'production'
    WHERE d.service = @service AND d.running_at_ms IS NOT NULL AND d.release IN (SELECT value FROM json_each(@fixed))`

// Of readSilence; by the primary key; one row.
export const GET_FAULT_GROUP_BY_FINGERPRINT = 'SELECT first_at_ms, last_at_ms, count FROM fault_group WHERE fingerprint = @fingerprint'

// Of countActivity; by the primary key; one row.
export const GET_COUNT_OF_ACTIVITY_MINUTE_BY_SERVICE_AND_FROM = `SELECT coalesce(sum(count), 0) AS count
    FROM activity_minute WHERE service = @service AND minute BETWEEN @from AND @to
    AND (release IN (SELECT value FROM json_each(@fixed))) = @isFixed AND last_at_ms >= @fromMs`

// Of readPullRequests; by verdict_pull_request; one row for each person.
export const LIST_VERDICTS_OF_PULL_REQUEST = `SELECT 'person:' || person_id AS by, verdict, max(at_ms) AS atMs FROM verdict
    WHERE repository = @repository AND number = @number AND verdict <> 'remarked' GROUP BY person_id ORDER BY 3`

// Of readLadderInput; by the primary key.
export const LIST_UNAFFECTED = 'SELECT repository, by, at_ms AS atMs, words FROM item_unaffected WHERE item_key = @key ORDER BY repository'
