-- A repository that is read no more: what was read of it, and what is tied to it, stays.
ALTER TABLE repository ADD COLUMN disconnected_at_ms INTEGER;
