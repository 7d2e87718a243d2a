-- What somebody lets stand of how a requirement is written, with the reason.
CREATE TABLE writing_accepted (
  key TEXT NOT NULL, code TEXT NOT NULL, words TEXT NOT NULL, reason TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (key, code, words)
) STRICT, WITHOUT ROWID;
