-- Groups that people had a say in: they are not found anew.
CREATE TABLE group_word (fingerprint TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
-- What a group was before people merged it into another, and whose each site of the two was: what an undo goes back to.
CREATE TABLE merged_group (fingerprint TEXT PRIMARY KEY, into_fingerprint TEXT NOT NULL, saved TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE INDEX fault_site_release ON fault_site (release);
CREATE INDEX merged_group_into ON merged_group (into_fingerprint);
