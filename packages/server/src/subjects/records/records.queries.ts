// Of nextItemKey; by the primary key; one row.
export const GET_NUMBER_OF_PROJECT_BY_PROJECT = 'SELECT last_number AS number FROM project WHERE prefix = @project'

// Of touchItem; by the primary key.
export const UPDATE_ITEM_REVISION_AND_UPDATED_AT_MS =
  'UPDATE item SET revision = revision + 1, updated_at_ms = max(updated_at_ms, @atMs) WHERE key = @key'

// Of keyPrefixes; reads the table.
export const LIST_KEY_PREFIX = 'SELECT prefix, kind FROM key_prefix'

// Of knownKeys; by the primary key; one row.
export const HAS_ITEM_BY_KEY = 'SELECT 1 FROM item WHERE key = @key'

// Of itemsOfRepository; by link_from.
export const LIST_LINK_ASSERTION_BY_FROM_AND_TO = `SELECT DISTINCT from_id FROM link_assertion
    WHERE retracted_at_ms IS NULL AND from_kind = 'item' AND to_kind IN ('branch', 'commit', 'pull-request')
    AND to_id >= @from AND to_id < @to ORDER BY from_id`

// Of isUndone; by journal_undone; one row.
export const HAS_JOURNAL_BY_SEQ = `SELECT 1 FROM journal WHERE kind = 'change-undone' AND json_extract(body, '$.seq') = @seq`

// Of findLoop; by link_from.
export const LIST_LINK_ASSERTION_BY_ID_AND_KIND = `SELECT to_id FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @id AND kind = @kind AND retracted_at_ms IS NULL`

// Of renewLinkIds; reads the table.
export const LIST_LINK_ASSERTION_BY_KEY = `SELECT assertion_id, kind, from_kind, from_id, to_kind, to_id, provenance,
    source, stated_by FROM link_assertion WHERE from_kind = 'item' AND from_id = @key
    UNION SELECT assertion_id, kind, from_kind, from_id, to_kind, to_id, provenance, source, stated_by
      FROM link_assertion WHERE to_kind = 'item' AND to_id = @key ORDER BY assertion_id`

// Of renewLinkIds; by the primary key.
export const UPDATE_LINK_ASSERTION_ASSERTION_ID_AND_LINK_ID =
  'UPDATE OR REPLACE link_assertion SET assertion_id = @assertionId, link_id = @linkId WHERE assertion_id = @old'
