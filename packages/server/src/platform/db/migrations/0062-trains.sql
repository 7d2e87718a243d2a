-- Releases of several services that go out together; cars are a JSON list.
CREATE TABLE train (
  project TEXT NOT NULL, train_id TEXT NOT NULL, name TEXT NOT NULL, words TEXT NOT NULL, leaves_on TEXT, waits_for TEXT NOT NULL,
  makes INTEGER NOT NULL, cars TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, ready_at_ms INTEGER, held_why TEXT,
  called_off_words TEXT, called_off_by TEXT, called_off_at_ms INTEGER, PRIMARY KEY (project, train_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX train_open ON train (at_ms) WHERE called_off_at_ms IS NULL AND waits_for <> '';
