-- Further addresses by which commits and mails are somebody's. One counts once it is confirmed; a confirmed one has one owner.
CREATE TABLE person_address (
  person_id TEXT NOT NULL, email TEXT NOT NULL COLLATE NOCASE, claimed_at_ms INTEGER NOT NULL, confirmed_at_ms INTEGER,
  PRIMARY KEY (person_id, email)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX person_address_confirmed ON person_address (email) WHERE confirmed_at_ms IS NOT NULL;
