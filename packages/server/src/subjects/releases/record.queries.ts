// Of readRecord; by the primary key.
export const LIST_REQUIREMENT_BY_KEYS = `SELECT r.key, r.title, r.text, r.revision FROM json_each(@keys) k
  CROSS JOIN requirement r ON r.key = k.value ORDER BY r.key`

// Of readRecord; by the primary key: pull requests that one of the commits merged, or is the head of.
export const LIST_PULL_REQUEST_OF_COMMITS = `SELECT number, title, state, author, merge_sha AS mergeSha FROM pull_request
  WHERE repository = @repository AND state = 'merged'
    AND (merge_sha IN (SELECT value FROM json_each(@shas)) OR head_sha IN (SELECT value FROM json_each(@shas))) ORDER BY number`

// Of readRecord; by verdict_pull_request.
export const LIST_VERDICT_WITH_NAME = `SELECT p.name AS by, v.verdict, v.at_ms AS atMs, v.words FROM verdict v
  JOIN person p ON p.person_id = v.person_id WHERE v.repository = @repository AND v.number = @number ORDER BY v.at_ms, v.review_id`

// Of readRecord; by journal_subject.
export const LIST_PASSED_OVER = `SELECT j.actor, j.at_ms AS atMs, j.body FROM journal_subject s JOIN journal j ON j.seq = s.seq
  WHERE s.subject = @subject AND j.kind = 'gates-passed-over' ORDER BY j.seq`

// Of readRecord; by build_sha and the primary key: results of the newest build of the release's commit that prove something.
export const LIST_TEST_OF_RELEASE = `SELECT t.name, t.outcome, t.build, t.verifies FROM build b
  JOIN test_result t ON t.repository = b.repository AND t.build = b.number
  WHERE b.repository = @repository AND b.sha = @sha
    AND b.number = (SELECT max(o.number) FROM build o WHERE o.repository = @repository AND o.sha = @sha) ORDER BY t.suite, t.name`

// Of readRecord; by the primary keys: what people found in plans of the release, the newest in each place.
export const LIST_CHECK_OF_RELEASE = `SELECT c.number, c.title, d.environment, d.outcome, d.by, d.at_ms AS atMs, d.words FROM test_plan p
  JOIN test_done d ON d.project = p.project AND d.plan_id = p.plan_id
  JOIN test_case c ON c.project = d.project AND c.number = d.number
  WHERE p.project = @project AND p.release = @release AND d.result_id = (SELECT o.result_id FROM test_done o
    WHERE o.project = d.project AND o.plan_id = d.plan_id AND o.number = d.number AND o.environment = d.environment
    ORDER BY o.at_ms DESC, o.result_id DESC LIMIT 1)
  ORDER BY c.number, d.environment`

// Of readRecord; by deployment_place.
export const LIST_DEPLOYMENT_OF_RELEASE = `SELECT deployment_id AS deploymentId, environment, state, asked_by AS askedBy,
  approved_by AS approvedBy, at_ms AS atMs, running_at_ms AS runningAtMs
  FROM deployment WHERE service = @service AND release = @name ORDER BY at_ms, deployment_id`

// Of readRecord; by the primary key; one row.
export const GET_PROJECT_OF_SERVICE = 'SELECT project FROM service WHERE name = @service'
