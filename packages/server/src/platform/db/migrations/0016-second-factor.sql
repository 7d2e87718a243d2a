-- A second factor: its secret, the one that is being set up, since when it is asked for, the last step whose code was used (a code
-- counts once), and the digests of the codes for whoever has lost the device.
ALTER TABLE credential ADD COLUMN totp_secret TEXT;
ALTER TABLE credential ADD COLUMN totp_pending TEXT;
ALTER TABLE credential ADD COLUMN totp_since_ms INTEGER;
ALTER TABLE credential ADD COLUMN totp_last_step INTEGER NOT NULL DEFAULT 0;
ALTER TABLE credential ADD COLUMN recovery TEXT NOT NULL DEFAULT '[]';
