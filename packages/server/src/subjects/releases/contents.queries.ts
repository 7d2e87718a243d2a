// Of releaseBefore; by the primary key: those of one service.
export const LIST_RELEASE_OF_SERVICE = 'SELECT name, sha FROM release WHERE service = @service ORDER BY name'

// Of againstOf; by the primary key; one row.
export const GET_RELEASE_OF_SERVICE = 'SELECT name, sha FROM release WHERE service = @service AND name = @name'

// Of itemsOfCommits; by link_to: as many rows as the commits asked for have links.
export const LIST_ITEM_OF_COMMITS = `SELECT l.from_id AS key, l.to_id AS commitId, l.kind FROM json_each(@ids) c
    JOIN link_assertion l ON l.to_kind = 'commit' AND l.to_id = c.value AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL`

// Of holdAgainst; by the primary key.
export const LIST_AUTHOR_OF_COMMITS = `SELECT g.author_name AS name, count(*) AS commits FROM json_each(@shas) s
    JOIN git_commit g ON g.repository = @repository AND g.sha = s.value GROUP BY g.author_name ORDER BY commits DESC, name`

// Of evidenceOf; by the primary key.
export const LIST_NOTE = 'SELECT key, text FROM release_note WHERE service = @service AND release = @release AND reader = @reader'

// Of evidenceOf; by item_found_in; at most 200 rows.
export const LIST_OPEN_FOUND_IN = `SELECT key FROM item
  WHERE found_in COLLATE NOCASE IN (@release, @named) AND is_open = 1 AND is_confidential = 0
  ORDER BY severity, key LIMIT 200`

// Of requireService; by the primary keys; one row.
export const GET_SERVICE = `SELECT s.repository, s.tag_prefix, r.url FROM service s
    JOIN repository r ON r.name = s.repository AND r.disconnected_at_ms IS NULL
    WHERE s.name = @service`

// Of choicesOf; by the primary key; the main line first, then maintenance lines and those that count as main, tens at most.
export const LIST_LONG_LINES = `SELECT substr(g.ref, 12) AS branch, g.sha FROM git_ref g JOIN repository r ON r.name = g.repository
  WHERE g.repository = @repository AND g.deleted_at_ms IS NULL AND g.ref LIKE 'refs/heads/%'
    AND (g.ref = 'refs/heads/' || r.main_branch OR g.ref LIKE 'refs/heads/maintenance/%'
      OR substr(g.ref, 12) IN (SELECT value FROM json_each(r.long_lines)))
  ORDER BY g.ref <> 'refs/heads/' || r.main_branch, g.ref LIMIT 50`

// Of readNotesPublication; by the primary key; one row.
export const GET_PUBLISHED_NOTE = `SELECT text, is_public, at_ms FROM published_note
  WHERE service = @service AND reader = @reader AND release = @release`

// Of listPublishedNotes; by the primary key; tens of rows for each reader.
export const LIST_PUBLISHED_NOTES = `SELECT n.release, n.reader, n.text, n.is_public, n.at_ms, w.why AS withdrawnWhy FROM published_note n
  LEFT JOIN withdrawn_release w ON w.service = n.service AND w.release = n.release
  WHERE n.service = @service ORDER BY n.at_ms DESC, n.release LIMIT 1000`
