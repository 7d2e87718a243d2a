export const COLUMNS =
  'assertion_id, link_id, kind, from_kind, from_id, to_kind, to_id, provenance, source, stated_by, at_ms, target_revision'

// Of assertLink; by the primary key; one row.
export const GET_RETRACTED_AT_MS_OF_LINK_ASSERTION_BY_ASSERTION_ID =
  'SELECT retracted_at_ms FROM link_assertion WHERE assertion_id = @assertionId'

// Of assertLink; by the primary key; one row.
export const HAS_LINK_VETO_BY_LINK_ID_AND_SOURCE = 'SELECT 1 FROM link_veto WHERE link_id = @linkId AND source = @source'

// Of listAssertions.
export const LIST_LINK_ASSERTION_BY_KIND_AND_ID =
  `SELECT ${COLUMNS} FROM link_assertion WHERE from_kind = @kind AND from_id = @id AND retracted_at_ms IS NULL
    UNION ALL SELECT ${COLUMNS} FROM link_assertion WHERE to_kind = @kind AND to_id = @id AND retracted_at_ms IS NULL
      ORDER BY at_ms, assertion_id` as const

// Of itemsTiedTo; by link_from.
export const LIST_LINK_ASSERTION_FOR_ITEMS_TIED_TO = `SELECT from_id FROM link_assertion
  WHERE to_kind = @kind AND to_id = @id AND from_kind = 'item' AND retracted_at_ms IS NULL ORDER BY from_id`

// Of replaceAssertionsOf.
export const LIST_LINK_ASSERTION_BY_SOURCE =
  `SELECT ${COLUMNS} FROM link_assertion WHERE source = @source AND retracted_at_ms IS NULL ORDER BY assertion_id` as const

// Of requirementsOfItems; by link_from.
export const LIST_REQUIREMENT_OF_ITEMS = `SELECT DISTINCT l.from_id AS key, l.to_id AS requirement FROM json_each(@keys) k
    JOIN link_assertion l ON l.from_kind = 'item' AND l.from_id = k.value AND l.to_kind = 'requirement'
      AND l.retracted_at_ms IS NULL ORDER BY l.to_id`

// Of isSuspect; by the primary key; one row.
export const GET_REVISION_OF_REQUIREMENT_BY_KEY = 'SELECT revision FROM requirement WHERE key = @key'
