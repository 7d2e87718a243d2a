// Of composeDigest; by the primary key; one row.
export const GET_PERSON_BY_PERSON_ID = 'SELECT email, name FROM person WHERE person_id = @personId'

// Of composeDigest; by the primary key; one row.
export const GET_TITLE_OF_ITEM_BY_KEY = 'SELECT title FROM item WHERE key = @key'

// Of noteRefusal; by the primary key.
export const INSERT_MAIL_TRY = `INSERT INTO mail_try (person_id, item_key, tries) VALUES (@personId, @key, 1)
  ON CONFLICT (person_id, item_key) DO UPDATE SET tries = tries + 1`

// Of noteRefusal; by the primary key; one row.
export const GET_MAIL_TRY = 'SELECT tries FROM mail_try WHERE person_id = @personId AND item_key = @key'

// Of mailDigests and noteRefusal; by the primary key.
export const DELETE_MAIL_TRY = 'DELETE FROM mail_try WHERE person_id = @personId AND item_key = @key'

// Of listMailRefusals; reads the table, which is small, and by the primary key.
export const LIST_MAIL_REFUSAL = `SELECT r.person_id AS personId, r.why, r.at_ms AS atMs FROM mail_refusal r
  WHERE EXISTS (SELECT 1 FROM membership m WHERE m.project = @project AND m.person_id = r.person_id) ORDER BY r.at_ms DESC LIMIT 200`
