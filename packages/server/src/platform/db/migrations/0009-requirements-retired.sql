-- A requirement that holds no more keeps its key, its text and its past; it is asked for by nothing new.
ALTER TABLE requirement ADD COLUMN retired_at_ms INTEGER;
ALTER TABLE requirement ADD COLUMN retired_words TEXT;
