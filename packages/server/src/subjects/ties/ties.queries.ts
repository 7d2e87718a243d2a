// Of listUnexplained; along git_commit_all or git_commit_time, newest first; at most @limit rows.
export const LIST_COMMIT_WITHOUT_ITEM = `SELECT c.repository, c.sha, c.message, c.author_name, c.author_email, c.author_at_ms,
    c.committed_at_ms, c.files
  FROM git_commit c
  WHERE (-c.committed_at_ms, c.repository, c.sha) > (@a, @b, @c) AND c.committed_at_ms >= @sinceMs
    AND (@repository IS NULL OR c.repository = @repository)
    AND c.repository NOT IN (SELECT value FROM json_each(@hidden))
    AND json_array_length(c.parents) < 2
    AND NOT EXISTS (SELECT 1 FROM link_assertion l WHERE l.to_kind = 'commit' AND l.to_id = c.repository || '/' || c.sha
      AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL)
    AND NOT EXISTS (SELECT 1 FROM commit_excuse e WHERE e.repository = c.repository AND e.sha = c.sha)
  ORDER BY c.committed_at_ms DESC, c.repository, c.sha LIMIT @limit`

// Of explainedByPullRequest; by pull_request's primary key, the newest 500 of a repository, and link_to.
export const LIST_TIED_PULL_REQUEST = `SELECT p.repository, p.head_sha, p.merge_sha, p.base_sha FROM pull_request p
  WHERE p.repository = @repository AND p.updated_at_ms >= @sinceMs AND p.state = 'merged'
    AND EXISTS (SELECT 1 FROM link_assertion l WHERE l.to_kind = 'pull-request' AND l.to_id = @repository || '/' || p.number
      AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL)
  ORDER BY p.number DESC LIMIT 500`

// Of pastWorkOf; by link_to's kind and the commit's primary key; the newest 3,000 ties of a repository.
export const LIST_WORK_OF_ITEMS = `SELECT i.key, i.component, c.files FROM link_assertion l
  JOIN git_commit c ON c.repository = @repository AND c.sha = substr(l.to_id, length(@repository) + 2)
  JOIN item i ON i.key = l.from_id
  WHERE l.to_kind = 'commit' AND l.to_id >= @repository || '/' AND l.to_id < @repository || '0'
    AND l.from_kind = 'item' AND l.retracted_at_ms IS NULL
  ORDER BY c.committed_at_ms DESC LIMIT 3000`

// Of factsOf; by the primary key; as many rows as candidates.
export const LIST_CANDIDATE_ITEM = `SELECT i.key, i.title, i.type, i.project, i.component, i.owner_id AS ownerId, i.is_open AS isOpen,
    i.created_at_ms AS createdAtMs, i.updated_at_ms AS updatedAtMs, i.is_confidential AS isConfidential, f.place,
    (SELECT json_group_array(h.person_id) FROM in_hand h WHERE h.item_key = i.key) AS holders
  FROM json_each(@keys) k JOIN item i ON i.key = k.value
  LEFT JOIN fault f ON i.fault IS NOT NULL AND f.number = CAST(substr(i.fault, 3) AS INTEGER)`

// Of learnedWeights; along tie_decision_time; at most 500 rows.
export const LIST_TIE_DECISION = `SELECT is_right AS isRight, facts FROM tie_decision
  WHERE facts IS NOT NULL ORDER BY at_ms DESC LIMIT 500`

// Of refusedOf; by the primary key; a few rows.
export const LIST_TIE_REFUSED = `SELECT item_key AS key FROM tie_decision
  WHERE repository = @repository AND sha = @sha AND is_right = 0`

// Of readTies; by the primary key; one row.
export const GET_COMMIT_EXCUSE = 'SELECT 1 FROM commit_excuse WHERE repository = @repository AND sha = @sha'
