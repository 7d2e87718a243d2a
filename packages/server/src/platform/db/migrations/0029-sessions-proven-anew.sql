-- When each session last showed by password whose it is; opening it did.
ALTER TABLE session ADD COLUMN proven_at_ms INTEGER NOT NULL DEFAULT 0;
UPDATE session SET proven_at_ms = opened_at_ms;
