import { ITEM_COLUMNS } from '#subjects/records/index'

// Of readDesk.
export const LIST_ITEM = `SELECT ${ITEM_COLUMNS} FROM json_each(@keys) k JOIN item i ON i.key = k.value ORDER BY i.key` as const

// Of readDesk; reads the table; at most 8 rows.
export const LIST_DEPLOYMENT = `SELECT deployment_id, service, release, environment, at_ms FROM deployment WHERE state = 'asked'
    AND service NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY at_ms DESC LIMIT 8`

// Of readDesk; by pull_request_updated; at most 8 rows.
export const LIST_PULL_REQUEST = `SELECT repository, number, title, head, updated_at_ms,
      (SELECT a.at_ms FROM review_ask a
        WHERE a.repository = p.repository AND a.number = p.number AND a.person_id = @personId) AS asked_at_ms
    FROM pull_request p WHERE state = 'open'
    AND (EXISTS (SELECT 1 FROM review_ask a WHERE a.repository = p.repository AND a.number = p.number AND a.person_id = @personId)
      OR (NOT EXISTS (SELECT 1 FROM review_ask a WHERE a.repository = p.repository AND a.number = p.number)
        AND NOT EXISTS (SELECT 1 FROM verdict v WHERE v.person_id = @personId AND v.repository = p.repository AND v.number = p.number)))
    AND +repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY updated_at_ms DESC LIMIT 8`

// Of readDesk; reads the table.
export const LIST_PROJECT = 'SELECT prefix FROM project ORDER BY prefix'

// Of askedWords; by the primary key; one row.
export const GET_WORDS_OF_ITEM_BY_KEY = 'SELECT asked_words AS words FROM item WHERE key = @key'

// Of sinceOf; by the primary key; one row.
export const GET_STARTED_AT_MS_OF_ITEM_BY_KEY = 'SELECT started_at_ms FROM item WHERE key = @key'

// Of sinceOf; by link_from; one row.
export const GET_AT_MS_OF_LINK_ASSERTION_BY_KEY = `SELECT min(at_ms) AS at_ms FROM link_assertion
  WHERE from_kind = 'item' AND from_id = @key AND to_kind IN ('branch', 'commit') AND retracted_at_ms IS NULL`
