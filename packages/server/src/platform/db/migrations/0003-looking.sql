-- How a saved view looks besides its filter, order and columns: layout, grouping, widths, what its board's columns and lanes are.
ALTER TABLE saved_view ADD COLUMN look TEXT NOT NULL DEFAULT '{}';

-- The orders of the list. Each holds all that a filter looks at, so that a filter which little fits reads these narrow rows and not the items with their texts.
DROP INDEX item_worst;
DROP INDEX item_newest;
DROP INDEX item_updated;
CREATE INDEX item_worst ON item (coalesce(severity, 9), -created_at_ms, key, is_archived, is_open, is_confidential, severity, type, owner_id, reporter_id, component, milestone, stage_rank, created_at_ms,
  updated_at_ms, due_on, priority, sprint, project, fault, found_in, has_drift, has_come_back, disposition, labels, co_owner_ids, named_ids);
CREATE INDEX item_newest ON item (-created_at_ms, key, is_archived, is_open, is_confidential, severity, type, owner_id, reporter_id, component, milestone, stage_rank, created_at_ms,
  updated_at_ms, due_on, priority, sprint, project, fault, found_in, has_drift, has_come_back, disposition, labels, co_owner_ids, named_ids);
CREATE INDEX item_updated ON item (-updated_at_ms, key, is_archived, is_open, is_confidential, severity, type, owner_id, reporter_id, component, milestone, stage_rank, created_at_ms,
  updated_at_ms, due_on, priority, sprint, project, fault, found_in, has_drift, has_come_back, disposition, labels, co_owner_ids, named_ids);
CREATE INDEX item_soonest ON item (coalesce(due_on, '9999-12-31'), -created_at_ms, key);
CREATE INDEX item_due_day ON item (due_on) WHERE due_on IS NOT NULL;

-- What few items have is found by an index of its own.
CREATE INDEX item_drifting ON item (key) WHERE has_drift = 1;
CREATE INDEX item_back ON item (key) WHERE has_come_back = 1;
CREATE INDEX item_archived ON item (key) WHERE is_archived = 1;
CREATE INDEX item_rejected ON item (key) WHERE disposition IS NOT NULL;
CREATE INDEX item_in_milestone ON item (milestone COLLATE NOCASE) WHERE milestone IS NOT NULL;
CREATE INDEX item_in_sprint ON item (sprint COLLATE NOCASE) WHERE sprint IS NOT NULL;
CREATE INDEX item_of_priority ON item (priority COLLATE NOCASE) WHERE priority IS NOT NULL;
CREATE INDEX item_found_in ON item (found_in COLLATE NOCASE) WHERE found_in IS NOT NULL;
CREATE INDEX item_in_component ON item (component COLLATE NOCASE) WHERE component IS NOT NULL;
CREATE INDEX item_of_stage ON item (stage_rank);
CREATE INDEX link_blocks ON link_assertion (to_id, from_id) WHERE kind = 'blocks' AND to_kind = 'item' AND retracted_at_ms IS NULL;

-- Labels one by one, kept by the rows of items themselves.
CREATE TABLE item_label (label TEXT NOT NULL COLLATE NOCASE, item_key TEXT NOT NULL, PRIMARY KEY (label, item_key)) STRICT, WITHOUT ROWID;
CREATE INDEX item_label_item ON item_label (item_key);
INSERT OR IGNORE INTO item_label (label, item_key) SELECT l.value, i.key FROM item i, json_each(i.labels) l;
CREATE TRIGGER item_label_added AFTER INSERT ON item WHEN new.labels <> '[]' BEGIN
  INSERT OR IGNORE INTO item_label (label, item_key) SELECT value, new.key FROM json_each(new.labels);
END;
CREATE TRIGGER item_label_changed AFTER UPDATE OF labels, key ON item WHEN new.labels <> old.labels OR new.key <> old.key BEGIN
  DELETE FROM item_label WHERE item_key = old.key;
  INSERT OR IGNORE INTO item_label (label, item_key) SELECT value, new.key FROM json_each(new.labels);
END;

-- The indices of words, anew: short beginnings of words are indexed too, and a comment's row number says which item it belongs to (the item's row, then twenty bits for its comments).
DROP TABLE item_search;
CREATE VIRTUAL TABLE item_search USING fts5 (title, description, tokenize = 'porter unicode61 remove_diacritics 2', prefix = '2 3');
INSERT INTO item_search (rowid, title, description) SELECT r.rowid, i.title, i.description FROM item_search_row r JOIN item i ON i.key = r.key;
DROP TABLE comment_search;
DROP TABLE comment_search_row;
CREATE TABLE comment_search_row (rowid INTEGER PRIMARY KEY, comment_id TEXT NOT NULL UNIQUE) STRICT;
CREATE VIRTUAL TABLE comment_search USING fts5 (text, tokenize = 'porter unicode61 remove_diacritics 2', prefix = '2 3');
INSERT INTO comment_search_row (rowid, comment_id)
  SELECT (r.rowid << 20) + row_number() OVER (PARTITION BY c.item_key ORDER BY c.at_ms, c.comment_id), c.comment_id FROM comment c JOIN item_search_row r ON r.key = c.item_key;
INSERT INTO comment_search (rowid, text) SELECT r.rowid, c.text FROM comment_search_row r JOIN comment c ON c.comment_id = r.comment_id;
