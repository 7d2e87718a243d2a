// Of readSecondFactor and checkSecondFactor; by the primary key; one row.
export const GET_SECOND_FACTOR = `SELECT password_hash, totp_secret, totp_pending, totp_since_ms, totp_last_step, recovery FROM credential
    WHERE person_id = @personId`

// Of beginSecondFactor; by the primary key.
export const UPDATE_TOTP_PENDING = 'UPDATE credential SET totp_pending = @secret WHERE person_id = @personId'

// Of confirmSecondFactor; by the primary key.
export const UPDATE_TOTP_CONFIRMED = `UPDATE credential SET totp_secret = totp_pending, totp_pending = NULL, totp_since_ms = @nowMs,
    totp_last_step = @step, recovery = @recovery WHERE person_id = @personId`

// Of endSecondFactor; by the primary key.
export const UPDATE_TOTP_ENDED = `UPDATE credential
    SET totp_secret = NULL, totp_pending = NULL, totp_since_ms = NULL, totp_last_step = 0, recovery = '[]'
    WHERE person_id = @personId`

// Of checkSecondFactor; by the primary key.
export const UPDATE_TOTP_USED = 'UPDATE credential SET totp_last_step = @step, recovery = @recovery WHERE person_id = @personId'
