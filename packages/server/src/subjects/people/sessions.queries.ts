// Of openSession; reads the table.
export const DELETE_SESSIONS_THAT_ENDED =
  'DELETE FROM session WHERE expires_at_ms < @nowMs OR (used_at_ms > 0 AND used_at_ms < @idleBeforeMs)'

// Of openSession.
export const INSERT_SESSION = `INSERT INTO session (session_hash, person_id, csrf_token, expires_at_ms, opened_at_ms, used_at_ms,
    proven_at_ms, place)
  VALUES (@sessionHash, @personId, @csrfToken, @expiresAtMs, @nowMs, @nowMs, @nowMs, @place)`

// Of signOut and endSession; by the primary key.
export const DELETE_SESSION_BY_SESSION_HASH = 'DELETE FROM session WHERE session_hash = @sessionHash'

// Of whoBySession; by the primary key; one row. One that was opened before its use was noted is not idle.
export const GET_SESSION_BY_SESSION_HASH = `SELECT person_id, csrf_token, used_at_ms, proven_at_ms FROM session
  WHERE session_hash = @sessionHash AND expires_at_ms > @nowMs AND (used_at_ms = 0 OR used_at_ms >= @idleBeforeMs)`

// Of whoBySession; by the primary key; at most once a minute for each session.
export const UPDATE_SESSION_USED = 'UPDATE session SET used_at_ms = @nowMs WHERE session_hash = @sessionHash'

// Of proveAgain; by the primary key.
export const UPDATE_SESSION_PROVEN = 'UPDATE session SET proven_at_ms = @nowMs WHERE session_hash = @sessionHash'

// Of listSessions; by the index of people.
export const LIST_SESSION_BY_PERSON_ID = `SELECT session_hash AS sessionHash, opened_at_ms AS openedAtMs, used_at_ms AS usedAtMs,
  expires_at_ms AS expiresAtMs, place FROM session
  WHERE person_id = @personId AND expires_at_ms > @nowMs AND (used_at_ms = 0 OR used_at_ms >= @idleBeforeMs)
  ORDER BY used_at_ms DESC, session_hash`

// Of endOtherSessions; by the index of people.
export const DELETE_OTHER_SESSIONS = 'DELETE FROM session WHERE person_id = @personId AND session_hash <> @sessionHash'

// Of noteFailure; by the primary key; one row.
export const GET_FAILURES_OF_CREDENTIAL = 'SELECT failures FROM credential WHERE person_id = @personId'

// Of signIn and noteFailure; by the primary key.
export const UPDATE_CREDENTIAL_FAILURES =
  'UPDATE credential SET failures = @failures, locked_until_ms = @lockedUntilMs WHERE person_id = @personId'
