-- Which line of which release failed, and which fault that is: what new traces are held against.
CREATE TABLE fault_site (
  place TEXT NOT NULL, release TEXT NOT NULL, position INTEGER NOT NULL, file TEXT NOT NULL, fingerprint TEXT NOT NULL, site TEXT NOT NULL, PRIMARY KEY (place, release, position, file, fingerprint)
) STRICT, WITHOUT ROWID;
CREATE INDEX fault_site_group ON fault_site (fingerprint);
-- Groups that were found to be the same: the one goes on under the other's name.
CREATE TABLE group_alias (fingerprint TEXT PRIMARY KEY, into_fingerprint TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE INDEX group_alias_into ON group_alias (into_fingerprint);
-- Source maps as they were uploaded, by the service that runs the built file.
CREATE TABLE source_map (service TEXT NOT NULL, release TEXT NOT NULL, file TEXT NOT NULL, map BLOB NOT NULL, received_at_ms INTEGER NOT NULL, PRIMARY KEY (service, release, file)) STRICT, WITHOUT ROWID;
-- Occurrences beyond the set rate are counted exactly and not kept; so are those whose time is over.
ALTER TABLE fault_group ADD COLUMN left_out INTEGER NOT NULL DEFAULT 0;
CREATE INDEX occurrence_received ON occurrence (received_at_ms);
CREATE INDEX fault_group_newest ON fault_group (-last_at_ms, fingerprint);
CREATE INDEX fault_group_service ON fault_group (service, last_at_ms);
-- Counts by day, for the small charts of lists.
CREATE TABLE fault_day (fingerprint TEXT NOT NULL, day INTEGER NOT NULL, count INTEGER NOT NULL, PRIMARY KEY (fingerprint, day)) STRICT, WITHOUT ROWID;
INSERT INTO fault_day (fingerprint, day, count) SELECT fingerprint, minute / 1440, sum(count) FROM fault_minute GROUP BY fingerprint, minute / 1440;
