// Of signIn; by a unique key and the primary key; one row.
export const GET_PERSON_BY_EMAIL = `SELECT p.person_id, c.password_hash, c.locked_until_ms FROM person p
  JOIN credential c ON c.person_id = p.person_id WHERE p.email = @email`

// Of changePassword; by the primary keys; one row.
export const GET_CREDENTIAL_BY_PERSON_ID = `SELECT c.password_hash, c.locked_until_ms, p.name, p.email FROM credential c
  JOIN person p ON p.person_id = c.person_id
    WHERE c.person_id = @personId`

// Of setPassword.
export const INSERT_CREDENTIAL = `INSERT INTO credential (person_id, password_hash) VALUES (@personId, @passwordHash)
  ON CONFLICT (person_id) DO UPDATE SET password_hash = excluded.password_hash, failures = 0, locked_until_ms = 0`

// Of firstAdminSecret; reads the table; one row.
export const GET_PERSON_ID_OF_CREDENTIAL = 'SELECT person_id FROM credential LIMIT 1'

// Of signUp; by the primary key.
export const DELETE_SECRET = `DELETE FROM secret WHERE name = 'first-admin'`

// Of freePersonId; by the primary key; one row.
export const HAS_PERSON_BY_PERSON_ID = 'SELECT 1 FROM person WHERE person_id = @personId'

// Of invitePerson; by the primary keys; one row.
export const GET_STANDING_OF_PERSON = `SELECT p.person_id,
      EXISTS (SELECT 1 FROM membership m WHERE m.person_id = p.person_id AND m.project = @project) AS has_role,
      EXISTS (SELECT 1 FROM credential c WHERE c.person_id = p.person_id) AS can_sign_in FROM person p WHERE p.person_id = @personId`

// Of personOf; by the primary key; one row.
export const GET_PERSON_BY_PERSON_ID = 'SELECT name, initials, email, time_zone AS timeZone FROM person WHERE person_id = @personId'

// Of requireMember; by the primary key; one row.
export const GET_MEMBERSHIP = 'SELECT role FROM membership WHERE project = @project AND person_id = @personId'

// Of requireOtherAdmin; by the primary key.
export const COUNT_ADMIN_OF_PROJECT = `SELECT count(*) AS count FROM membership WHERE project = @project AND role = 'admin'`

// Of rememberSecret.
export const INSERT_SECRET_FOR_REMEMBER_SECRET = 'INSERT OR IGNORE INTO secret (name, value) VALUES (@name, @value)'

// Of rememberSecret; by the primary key; one row.
export const GET_VALUE_OF_SECRET_BY_NAME = 'SELECT value FROM secret WHERE name = @name'

// Of projectPrefix; reads the table; one row.
export const GET_PREFIX_OF_PROJECT = 'SELECT prefix FROM project ORDER BY prefix LIMIT 1'

// Of replaceSecret; by the primary key.
export const UPDATE_SECRET = 'UPDATE secret SET value = @value WHERE name = @name'

// Of membershipsOf; by membership_person.
export const LIST_MEMBERSHIPS_OF_PERSON = 'SELECT project, role FROM membership WHERE person_id = @personId ORDER BY project'

// Of writeAccountClosed; by the primary key.
export const DELETE_CREDENTIAL = 'DELETE FROM credential WHERE person_id = @personId'

// Of writeAccountClosed; reads the table, which has a row for each open session.
export const DELETE_SESSIONS_OF_PERSON = 'DELETE FROM session WHERE person_id = @personId'

// Of writeAccountClosed; reads the table.
export const DELETE_TOKENS_OF_PERSON = 'DELETE FROM access_token WHERE person_id = @personId'

// Of personByAddress; by unique keys, which do not look at case; one row.
export const GET_PERSON_BY_ADDRESS = `SELECT person_id AS personId, name FROM person WHERE email = @email
  UNION ALL SELECT p.person_id, p.name FROM person_address a JOIN person p ON p.person_id = a.person_id
    WHERE a.email = @email AND a.confirmed_at_ms IS NOT NULL LIMIT 1`

// Of addressesOf; by the primary key.
export const LIST_ADDRESSES_OF_PERSON =
  'SELECT email, confirmed_at_ms AS confirmedAtMs FROM person_address WHERE person_id = @personId ORDER BY email'
