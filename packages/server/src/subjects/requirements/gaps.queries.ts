// Of listGaps; by the primary key.
export const LIST_AGREED = 'SELECT code, id, reason, until_day AS until, by FROM agreed_gap WHERE project = @project'

// Of listGaps; by the primary key.
export const GET_REVISED_AT = 'SELECT max(at_ms) AS atMs FROM requirement_revision WHERE key = @key'

const TIED = `SELECT 1 FROM link_assertion l
    WHERE l.from_kind = 'item' AND l.from_id = i.key AND l.to_kind = 'requirement' AND l.retracted_at_ms IS NULL`
const OF_PROJECT = 'i.project = @project AND i.disposition IS NULL AND i.is_archived = 0'

// Of itemGaps; by item's index of open ones; at most 200 rows.
export const LIST_ITEM_WITHOUT_REQUIREMENT = `SELECT i.key, i.title, i.owner_id AS ownerId, i.created_at_ms AS sinceMs FROM item i
    WHERE ${OF_PROJECT} AND i.is_open = 1 AND i.accepted_at_ms IS NOT NULL AND NOT EXISTS (${TIED})
      ORDER BY i.severity IS NULL, i.severity, i.key LIMIT 200` as const

// Of itemGaps; by item's index of stages; at most 200 rows.
export const LIST_ITEM_NOT_RELEASED = `SELECT i.key, i.title, i.owner_id AS ownerId, i.updated_at_ms AS sinceMs FROM item i
    WHERE ${OF_PROJECT} AND i.stage = 'merged' ORDER BY i.updated_at_ms LIMIT 200` as const
