-- How often a message to somebody about an item was not taken, and whose mail was set aside for it, until one gets through.
CREATE TABLE mail_try (person_id TEXT NOT NULL, item_key TEXT NOT NULL, tries INTEGER NOT NULL, PRIMARY KEY (person_id, item_key)) STRICT, WITHOUT ROWID;
CREATE TABLE mail_refusal (person_id TEXT PRIMARY KEY, why TEXT NOT NULL, at_ms INTEGER NOT NULL) STRICT, WITHOUT ROWID;
