-- The words of a project; `instead` is a JSON list.
CREATE TABLE glossary_term (
  project TEXT NOT NULL, term TEXT NOT NULL COLLATE NOCASE, meaning TEXT NOT NULL, instead TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (project, term)
) STRICT, WITHOUT ROWID;
