// Of readHealth; builds by build_started, one row; refs, deployments and repositories are tens to thousands of rows.
export const GET_LAST_HEARD = `SELECT (SELECT max(moved_at_ms) FROM git_ref) AS push,
    (SELECT max(fetched_at_ms) FROM repository_state) AS fetch,
    (SELECT coalesce(finished_at_ms, started_at_ms) FROM build ORDER BY started_at_ms DESC LIMIT 1) AS build,
      (SELECT max(at_ms) FROM deployment) AS deployment,
    (SELECT count(*) FROM mail_refusal) AS refusals`

// Of readHealth; over a table that stays small.
export const LIST_REPOSITORIES_IN_TROUBLE = `SELECT s.repository FROM repository_state s JOIN repository r ON r.name = s.repository
    WHERE s.trouble IS NOT NULL AND r.disconnected_at_ms IS NULL ORDER BY s.repository`

// Of readHealth; by fault_group_last; one row.
export const GET_LAST_OCCURRENCE = 'SELECT max(last_at_ms) AS atMs FROM fault_group'
