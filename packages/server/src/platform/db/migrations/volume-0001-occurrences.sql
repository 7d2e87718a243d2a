-- Volume data: written by the intake worker alone (rule 19).
-- A trace is stored once by content. Where it begins with `type: message` of its record, that head is cut, so that a message with a number in it does not make another trace.
CREATE TABLE trace (digest TEXT PRIMARY KEY, stacktrace TEXT NOT NULL, is_head_cut INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE resource (digest TEXT PRIMARY KEY, attributes TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE occurrence (
  occurrence_id INTEGER PRIMARY KEY, fingerprint TEXT NOT NULL, at_ms INTEGER NOT NULL, received_at_ms INTEGER NOT NULL, release TEXT NOT NULL, environment TEXT NOT NULL,
  severity_number INTEGER NOT NULL, message TEXT NOT NULL, trace_digest TEXT NOT NULL, resource_digest TEXT NOT NULL, attributes TEXT NOT NULL, trace_id TEXT, record_hash TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX occurrence_group ON occurrence (fingerprint, occurrence_id);
CREATE TABLE fault_group (
  fingerprint TEXT PRIMARY KEY, service TEXT NOT NULL, grouping TEXT NOT NULL, trace_digest TEXT NOT NULL, first_at_ms INTEGER NOT NULL, last_at_ms INTEGER NOT NULL, count INTEGER NOT NULL, severity_number INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX fault_group_last ON fault_group (last_at_ms DESC, fingerprint);
CREATE TABLE fault_person (fingerprint TEXT NOT NULL, person TEXT NOT NULL, PRIMARY KEY (fingerprint, person)) STRICT, WITHOUT ROWID;
CREATE TABLE fault_release (
  fingerprint TEXT NOT NULL, release TEXT NOT NULL, environment TEXT NOT NULL, first_at_ms INTEGER NOT NULL, last_at_ms INTEGER NOT NULL, count INTEGER NOT NULL, PRIMARY KEY (fingerprint, release, environment)
) STRICT, WITHOUT ROWID;
CREATE TABLE fault_minute (fingerprint TEXT NOT NULL, minute INTEGER NOT NULL, environment TEXT NOT NULL, count INTEGER NOT NULL, PRIMARY KEY (fingerprint, minute, environment)) STRICT, WITHOUT ROWID;
CREATE TABLE activity_minute (
  service TEXT NOT NULL, minute INTEGER NOT NULL, release TEXT NOT NULL, environment TEXT NOT NULL, count INTEGER NOT NULL, last_at_ms INTEGER NOT NULL, PRIMARY KEY (service, minute, release, environment)
) STRICT, WITHOUT ROWID;
-- Outbox: which groups changed since the journal last looked.
CREATE TABLE group_change (cursor INTEGER PRIMARY KEY AUTOINCREMENT, fingerprint TEXT NOT NULL) STRICT;
