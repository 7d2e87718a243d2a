// Of readDelivery; by deployment_place: what was deployed to production, or failed on its way, in the order in which it ran.
export const LIST_PRODUCTION_DEPLOYMENT = `SELECT d.deployment_id AS deploymentId, d.service, d.release, d.environment, d.state,
  d.at_ms AS atMs,
    d.running_at_ms AS runningAtMs, r.sha FROM environment e
  CROSS JOIN deployment d ON d.service = @service AND d.environment = e.name
  LEFT JOIN release r ON r.service = d.service AND r.name = d.release
  WHERE e.kind = 'production' AND (d.running_at_ms IS NOT NULL OR d.state = 'failed')
  ORDER BY coalesce(d.running_at_ms, d.at_ms), d.deployment_id`

// Of readDelivery; by the primary key; a row for each commit.
export const LIST_COMMIT_TIMES = `SELECT c.sha, c.committed_at_ms AS atMs FROM json_each(@shas) s
  CROSS JOIN git_commit c ON c.repository = @repository AND c.sha = s.value WHERE json_array_length(c.parents) < 2`

// Of readDelivery; by link_to and the primary key: items that the commits fix.
export const LIST_FIXED_ITEMS = `SELECT i.key, i.created_at_ms AS atMs FROM json_each(@ids) c
  CROSS JOIN link_assertion l ON l.to_kind = 'commit' AND l.to_id = c.value AND l.kind = 'fixes' AND l.from_kind = 'item'
    AND l.retracted_at_ms IS NULL
  CROSS JOIN item i ON i.key = l.from_id GROUP BY i.key`
