-- Who stands for a claim that no evidence shows, and why.
ALTER TABLE claim ADD COLUMN accepted_by TEXT;
ALTER TABLE claim ADD COLUMN accepted_at_ms INTEGER;
ALTER TABLE claim ADD COLUMN accepted_words TEXT;
