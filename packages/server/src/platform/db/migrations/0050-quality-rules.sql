-- What is done about failing tests, new findings and coverage that fell.
CREATE TABLE quality_rule_set (project TEXT PRIMARY KEY, rules TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE quality_firing (
  firing_id TEXT PRIMARY KEY, project TEXT NOT NULL, rule_id TEXT NOT NULL, about TEXT NOT NULL, identity TEXT NOT NULL, what TEXT NOT NULL,
  place TEXT NOT NULL, key TEXT NOT NULL, outcome TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX quality_firing_rule ON quality_firing (project, rule_id, at_ms);
CREATE INDEX quality_firing_identity ON quality_firing (identity);
