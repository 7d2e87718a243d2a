// Of toRef; by the primary key; one row.
export const HAS_REQUIREMENT_BY_KEY = 'SELECT 1 FROM requirement WHERE key = @key'

// Of seedItems; by item_fault.
export const LIST_ITEM_BY_ID = 'SELECT key FROM item WHERE fault = @id ORDER BY created_at_ms DESC'

// Of seedItems; by the primary key; one row.
export const GET_BUILD_BY_REPOSITORY_AND_NUMBER = 'SELECT sha, branch FROM build WHERE repository = @repository AND number = @number'

// Of addCode; by deployment_place.
export const LIST_DEPLOYMENT_BY_SERVICE = `SELECT environment, release, running_at_ms FROM deployment
  WHERE service = @service AND state = 'running' ORDER BY environment`

// Of addReviews; by the primary key; one row.
export const GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER =
  'SELECT repository, head_sha, merge_sha, base_sha FROM pull_request WHERE repository = @repository AND number = @number'

// Of addTests; by the primary key.
export const LIST_REPOSITORY_BY_KEY = `SELECT t.repository, sum(t.outcome = 'passed') AS passed,
      sum(t.outcome = 'failed') AS failed FROM repository r
      CROSS JOIN test_result t CROSS JOIN json_each(t.verifies) v WHERE t.repository = r.name AND v.value = @key
      AND t.build = (SELECT max(b.number) FROM build b
        WHERE b.repository = r.name AND b.branch = r.main_branch AND b.finished_at_ms IS NOT NULL) GROUP BY t.repository`
