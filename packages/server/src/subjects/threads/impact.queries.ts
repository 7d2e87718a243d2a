// Of readImpact; by requirement_relation_to, downwards along what refines.
export const LIST_REFINING = `WITH RECURSIVE below (key, steps) AS (
    SELECT @key, 0 UNION SELECT r.from_key, b.steps + 1 FROM below b
      JOIN requirement_relation r ON r.to_key = b.key WHERE r.name = 'refines' AND b.steps < 20)
  SELECT q.key, q.title, min(b.steps) AS steps FROM below b JOIN requirement q ON q.key = b.key GROUP BY q.key ORDER BY steps, q.key`

// Of readImpact; by link_to: items of requirements.
export const LIST_ITEM_OF_REQUIREMENTS = `SELECT DISTINCT l.to_id AS "of", l.from_id AS key, l.kind FROM json_each(@keys) k
  CROSS JOIN link_assertion l ON l.to_kind = 'requirement' AND l.to_id = k.value AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL
  ORDER BY l.to_id, l.from_id`

// Of readImpact; by link_from: the commits of items, with who made them.
export const LIST_COMMIT_OF_ITEMS = `SELECT DISTINCT l.from_id AS key, c.repository, c.sha, c.author_name AS author,
  c.committed_at_ms AS atMs, c.files
  FROM json_each(@keys) k
  CROSS JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = k.value AND l.to_kind = 'commit' AND l.kind IN ('fixes', 'tied')
    AND l.retracted_at_ms IS NULL
  CROSS JOIN git_commit c ON c.repository = substr(l.to_id, 1, instr(l.to_id, '/') - 1) AND c.sha = substr(l.to_id, instr(l.to_id, '/') + 1)
  WHERE json_array_length(c.parents) < 2`

// Of readImpact; by a small table and deployment_place: what runs now.
export const LIST_RUNNING = `SELECT s.name AS service, s.repository, d.release, d.environment, r.sha FROM service s
  CROSS JOIN deployment d ON d.service = s.name AND d.state = 'running'
  CROSS JOIN release r ON r.service = d.service AND r.name = d.release
  WHERE s.project = @project ORDER BY s.name, d.environment`

// Of readImpact; by the primary key; one row.
export const GET_PROJECT_OF_PREFIX = 'SELECT project FROM key_prefix WHERE prefix = @prefix'
