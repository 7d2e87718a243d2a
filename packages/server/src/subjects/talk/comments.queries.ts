export const COLUMNS = 'comment_id, item_key, by, at_ms, text, reply_to, edited_at_ms, from_address'

// Of listPeople; reads the table; at most 1000 rows.
export const LIST_PERSON = 'SELECT person_id AS personId, name FROM person ORDER BY name LIMIT 1000'

// Of addComment; by the primary key; one row.
export const HAS_COMMENT_BY_REPLY_TO_AND_KEY = 'SELECT 1 FROM comment WHERE comment_id = @replyTo AND item_key = @key'

// Of whoAsked; by the primary key; one row.
export const GET_ASKED_BY_OF_ITEM_BY_KEY = 'SELECT asked_by FROM item WHERE key = @key AND asked_until_ms IS NOT NULL'

// Of followersOf; by the primary key.
export const LIST_FOLLOWER_BY_KEY = 'SELECT person_id FROM follower WHERE item_key = @key ORDER BY person_id'

// Of requireComment; one row.
export const GET_COMMENT_BY_COMMENT_ID = `SELECT ${COLUMNS} FROM comment WHERE comment_id = @commentId` as const

// Of listComments; at most @limit rows.
export const LIST_COMMENT_BY_KEY =
  `SELECT ${COLUMNS} FROM comment WHERE item_key = @key AND (at_ms, comment_id) > (@a, @b) ORDER BY at_ms, comment_id LIMIT @limit` as const

// Of listComments; by comment_item; one row.
export const COUNT_COMMENT_BY_KEY = 'SELECT count(*) AS count FROM comment WHERE item_key = @key'

// Of toComment; by the primary key.
export const LIST_COMMENT_REACTION_BY_ID =
  'SELECT reaction, person_id AS personId FROM comment_reaction WHERE comment_id = @id ORDER BY reaction, person_id'

// Of listRevisions; by the primary key; at most 100 rows.
export const LIST_COMMENT_REVISION_BY_COMMENT_ID =
  'SELECT text, at_ms AS atMs FROM comment_revision WHERE comment_id = @commentId ORDER BY revision DESC LIMIT 100'
