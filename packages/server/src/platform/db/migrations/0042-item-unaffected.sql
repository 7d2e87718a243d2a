-- Repositories that need nothing of an item's fix, as somebody who may declared with a reason.
CREATE TABLE item_unaffected (
  item_key TEXT NOT NULL, repository TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, words TEXT NOT NULL,
  PRIMARY KEY (item_key, repository)
) STRICT, WITHOUT ROWID;
