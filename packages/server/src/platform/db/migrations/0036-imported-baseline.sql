-- Where an imported item stood elsewhere, in the words that it had there; what comes later is judged by evidence as ever.
ALTER TABLE item ADD COLUMN baseline_stage TEXT;
ALTER TABLE item ADD COLUMN baseline_words TEXT;
ALTER TABLE item ADD COLUMN baseline_at_ms INTEGER;
ALTER TABLE item ADD COLUMN baseline_by TEXT;
