-- When something went wrong for people.
CREATE TABLE incident (
  project TEXT NOT NULL, number INTEGER NOT NULL, title TEXT NOT NULL, severity INTEGER NOT NULL, service TEXT, environment TEXT NOT NULL,
  started_at_ms INTEGER NOT NULL, over_at_ms INTEGER, lead_id TEXT, cause TEXT NOT NULL, opened_by TEXT NOT NULL,
  PRIMARY KEY (project, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX incident_open ON incident (project) WHERE over_at_ms IS NULL;
CREATE TABLE incident_note (
  note_id TEXT PRIMARY KEY, project TEXT NOT NULL, number INTEGER NOT NULL, text TEXT NOT NULL, happened_at_ms INTEGER NOT NULL, by TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX incident_note_incident ON incident_note (project, number);
CREATE TABLE incident_item (
  project TEXT NOT NULL, number INTEGER NOT NULL, item_key TEXT NOT NULL, role TEXT NOT NULL, PRIMARY KEY (project, number, item_key)
) STRICT, WITHOUT ROWID;
CREATE INDEX incident_item_key ON incident_item (item_key);
