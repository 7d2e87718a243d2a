// Of readNote; by the primary key; one row.
export const GET_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY =
  'SELECT text, at_ms AS atMs FROM private_note WHERE person_id = @personId AND item_key = @key'

// Of writeNote; by the primary key.
export const DELETE_PRIVATE_NOTE_BY_PERSON_ID_AND_KEY = 'DELETE FROM private_note WHERE person_id = @personId AND item_key = @key'

// Of writeNote.
export const INSERT_PRIVATE_NOTE =
  'INSERT OR REPLACE INTO private_note (person_id, item_key, text, at_ms) VALUES (@personId, @key, @text, @atMs)'
