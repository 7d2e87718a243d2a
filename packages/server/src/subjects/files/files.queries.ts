// Of readFile; by the primary key, newest first; at most 200 rows. What a merge brought stands by itself.
export const LIST_COMMIT_OF_PATH = `SELECT c.sha, c.message, c.author_name AS authorName, c.author_email AS authorEmail,
    c.committed_at_ms AS atMs
  FROM commit_path p JOIN git_commit c ON c.repository = p.repository AND c.sha = p.sha
  WHERE p.repository = @repository AND p.path = @path AND json_array_length(c.parents) < 2
  ORDER BY p.committed_at_ms DESC, p.sha LIMIT 200`

// Of readFile; by the primary key.
export const COUNT_COMMIT_OF_PATH = `SELECT count(*) AS count
  FROM commit_path p JOIN git_commit c ON c.repository = p.repository AND c.sha = p.sha
  WHERE p.repository = @repository AND p.path = @path AND json_array_length(c.parents) < 2`

// Of runsOf; by the primary key; as many rows as commits that lines came with.
export const LIST_COMMIT_BY_SHAS = `SELECT c.sha, c.message, c.author_name AS authorName, c.author_email AS authorEmail,
    c.committed_at_ms AS atMs
  FROM json_each(@shas) s JOIN git_commit c ON c.repository = @repository AND c.sha = s.value`

// Of itemsByCommit; by link_to.
export const LIST_ITEM_OF_COMMITS = `SELECT s.value AS sha, l.from_id AS key FROM json_each(@shas) s
  JOIN link_assertion l ON l.to_kind = 'commit' AND l.to_id = @repository || '/' || s.value
  WHERE l.from_kind = 'item' AND l.retracted_at_ms IS NULL ORDER BY l.from_id`

// Of readFile; by service's repository and fault's service; the newest 500 faults of the repository's services.
export const LIST_FAULT_OF_REPOSITORY = `SELECT f.number, f.type, f.message, f.place FROM service s JOIN fault f ON f.service = s.name
  WHERE s.repository = @repository AND f.place IS NOT NULL ORDER BY f.number DESC LIMIT 500`

// Of readFile; by the primary key.
export const LIST_TITLE_OF_REQUIREMENTS = `SELECT r.key, r.title FROM json_each(@keys) k JOIN requirement r ON r.key = k.value`

// Of searchFiles; by the primary key.
export const LIST_SEARCHED_REPOSITORY = `SELECT name FROM repository WHERE disconnected_at_ms IS NULL
    AND (@repository IS NULL OR name = @repository) AND name NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY name`
