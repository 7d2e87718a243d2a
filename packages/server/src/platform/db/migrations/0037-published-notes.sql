-- Notes of releases as somebody published them: the words of that moment, for everybody or for those who read the project.
CREATE TABLE published_note (
  service TEXT NOT NULL, release TEXT NOT NULL, reader TEXT NOT NULL, text TEXT NOT NULL, is_public INTEGER NOT NULL, at_ms INTEGER NOT NULL,
  PRIMARY KEY (service, reader, release)
) STRICT, WITHOUT ROWID;
