// Of signIn; by a unique key and the primary key; one row.
export const GET_PERSON_BY_EMAIL = `SELECT p.person_id, c.password_hash FROM person p JOIN credential c ON c.person_id = p.person_id WHERE p.email = @email`

// Of openSession; reads the table.
export const DELETE_SESSION = 'DELETE FROM session WHERE expires_at_ms < @nowMs'

// Of openSession.
export const INSERT_SESSION =
  'INSERT INTO session (session_hash, person_id, csrf_token, expires_at_ms) VALUES (@sessionHash, @personId, @csrfToken, @expiresAtMs)'

// Of signOut; by the primary key.
export const DELETE_SESSION_BY_SESSION_HASH = 'DELETE FROM session WHERE session_hash = @sessionHash'

// Of whoBySession; by the primary key; one row.
export const GET_SESSION_BY_SESSION_HASH =
  'SELECT person_id, csrf_token FROM session WHERE session_hash = @sessionHash AND expires_at_ms > @nowMs'

// Of setPassword.
export const INSERT_CREDENTIAL = `INSERT INTO credential (person_id, password_hash) VALUES (@personId, @passwordHash) ON CONFLICT (person_id) DO UPDATE SET password_hash = excluded.password_hash`

// Of firstAdminSecret; reads the table; one row.
export const GET_PERSON_ID_OF_CREDENTIAL = 'SELECT person_id FROM credential LIMIT 1'

// Of invitedBy; by the primary key; one row.
export const GET_SECRET_BY_NAME =
  'SELECT p.person_id, p.name, p.email FROM secret s JOIN person p ON p.person_id = s.value WHERE s.name = @name'

// Of signUp; by the primary key.
export const DELETE_SECRET_BY_NAME = 'DELETE FROM secret WHERE name = @name'

// Of signUp; by the primary key.
export const DELETE_SECRET = `DELETE FROM secret WHERE name = 'first-admin'`

// Of freePersonId; by the primary key; one row.
export const HAS_PERSON_BY_PERSON_ID = 'SELECT 1 FROM person WHERE person_id = @personId'

// Of invitePerson; by a unique key and the primary key; one row.
export const GET_PERSON_ID_OF_PERSON_BY_EMAIL = `SELECT p.person_id, EXISTS (SELECT 1 FROM membership m WHERE m.person_id = p.person_id AND m.project = @project) AS has_role,
      EXISTS (SELECT 1 FROM credential c WHERE c.person_id = p.person_id) AS can_sign_in FROM person p WHERE p.email = @email`

// Of invitePerson; reads the table.
export const DELETE_SECRET_BY_PERSON_ID = `DELETE FROM secret WHERE value = @personId AND name LIKE 'invite/%'`

// Of invitePerson.
export const INSERT_SECRET = 'INSERT INTO secret (name, value) VALUES (@name, @value)'

// Of invitePerson; by the primary key; one row.
export const GET_NAME_OF_PERSON_BY_PERSON_ID = 'SELECT name FROM person WHERE person_id = @personId'

// Of rememberSecret.
export const INSERT_SECRET_FOR_REMEMBER_SECRET = 'INSERT OR IGNORE INTO secret (name, value) VALUES (@name, @value)'

// Of rememberSecret; by the primary key; one row.
export const GET_VALUE_OF_SECRET_BY_NAME = 'SELECT value FROM secret WHERE name = @name'

// Of projectPrefix; reads the table; one row.
export const GET_PREFIX_OF_PROJECT = 'SELECT prefix FROM project ORDER BY prefix LIMIT 1'
