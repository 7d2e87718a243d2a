-- Pictures that texts of a project show: remarks, notes, results of tests by hand.
CREATE TABLE kept_picture (
  picture_id TEXT PRIMARY KEY, project TEXT NOT NULL, name TEXT NOT NULL, media_type TEXT NOT NULL, size_bytes INTEGER NOT NULL,
  sha256 TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
-- Somebody looks around with a question in mind: what to look at, for how long, and what they noted.
CREATE TABLE exploration (
  project TEXT NOT NULL, exploration_id TEXT NOT NULL, question TEXT NOT NULL, text TEXT NOT NULL, points TEXT NOT NULL, about TEXT NOT NULL,
  release TEXT, box_minutes INTEGER, by TEXT NOT NULL, at_ms INTEGER NOT NULL, done_points TEXT NOT NULL DEFAULT '[]',
  spent_ms INTEGER NOT NULL DEFAULT 0, running_since_ms INTEGER, ended_by TEXT, ended_at_ms INTEGER, ended_words TEXT,
  PRIMARY KEY (project, exploration_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE exploration_note (
  note_id TEXT PRIMARY KEY, exploration_id TEXT NOT NULL, project TEXT NOT NULL, sort TEXT NOT NULL, words TEXT NOT NULL, item TEXT,
  by TEXT NOT NULL, at_ms INTEGER NOT NULL, removed_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX exploration_note_of ON exploration_note (project, exploration_id, at_ms);
