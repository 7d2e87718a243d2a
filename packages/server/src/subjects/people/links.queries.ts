// Of makeLink; reads the table, which is small.
export const DELETE_LINKS_OF_PERSON = 'DELETE FROM secret WHERE value = @personId AND name LIKE @names'

// Of makeLink.
export const INSERT_LINK = 'INSERT INTO secret (name, value, expires_at_ms) VALUES (@name, @personId, @expiresAtMs)'

// Of personOfLink; by the primary key; one row. Links from before they ended hold on.
export const GET_PERSON_OF_LINK = `SELECT p.person_id, p.name, p.email FROM secret s JOIN person p ON p.person_id = s.value
  WHERE s.name = @name AND (s.expires_at_ms IS NULL OR s.expires_at_ms > @nowMs)`

// Of useUpLink; by the primary key.
export const DELETE_LINK = 'DELETE FROM secret WHERE name = @name'
