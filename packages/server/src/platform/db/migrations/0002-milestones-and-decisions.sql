-- Milestones, colours of labels.
CREATE TABLE milestone (
  project TEXT NOT NULL, name TEXT NOT NULL, starts_on TEXT, due_on TEXT, is_closed INTEGER NOT NULL, PRIMARY KEY (project, name)
) STRICT, WITHOUT ROWID;
CREATE TABLE label_colour (project TEXT NOT NULL, label TEXT NOT NULL, colour TEXT NOT NULL, PRIMARY KEY (project, label)) STRICT, WITHOUT ROWID;
CREATE INDEX item_milestone ON item (project, milestone, is_open) WHERE milestone IS NOT NULL;
CREATE INDEX item_type_of ON item (project, type);
CREATE INDEX component_name ON component (name);

-- Triage: an item can wait for its reporter; what was decided, with what had been proposed.
ALTER TABLE item ADD COLUMN asked_at_ms INTEGER;
ALTER TABLE item ADD COLUMN asked_by TEXT;
ALTER TABLE item ADD COLUMN asked_words TEXT;
ALTER TABLE item ADD COLUMN asked_until_ms INTEGER;
ALTER TABLE item ADD COLUMN answered_at_ms INTEGER;
-- The queue is read whole to be ranked: these two hold which items wait and what they were last read at.
CREATE INDEX item_undecided ON item (
  created_at_ms, key, revision, asked_until_ms, is_confidential, reporter_id, owner_id, co_owner_ids, named_ids, is_open, is_archived, stage_rank, accepted_at_ms, has_come_back
) WHERE is_open = 1 AND is_archived = 0 AND stage_rank = 0 AND accepted_at_ms IS NULL AND has_come_back = 0;
CREATE INDEX item_came_back ON item (
  created_at_ms, key, revision, asked_until_ms, is_confidential, reporter_id, owner_id, co_owner_ids, named_ids, is_open, is_archived, stage_rank, accepted_at_ms, has_come_back
) WHERE is_open = 1 AND is_archived = 0 AND has_come_back = 1;
CREATE INDEX item_asked ON item (reporter_id, asked_until_ms) WHERE asked_until_ms IS NOT NULL;
CREATE INDEX item_due ON item (owner_id, due_on) WHERE is_open = 1 AND is_archived = 0 AND due_on IS NOT NULL;
CREATE INDEX item_broke ON item (owner_id) WHERE is_open = 1 AND is_archived = 0 AND substr(stair, 4, 1) = 'x';
CREATE INDEX item_open ON item (is_open, is_archived, is_confidential);
-- Somebody's own open items, with all that the desk's conditions and orders look at.
CREATE INDEX item_owner_open ON item (
  owner_id, stage_rank, severity, created_at_ms, key, fault, is_confidential, reporter_id, co_owner_ids, named_ids, is_open, is_archived
) WHERE is_open = 1 AND is_archived = 0;
CREATE INDEX item_component_severity ON item (component, severity) WHERE accepted_at_ms IS NOT NULL AND severity IS NOT NULL AND component IS NOT NULL;
CREATE TABLE triage_decision (
  decision_id TEXT PRIMARY KEY, seq INTEGER NOT NULL UNIQUE, project TEXT NOT NULL, item_key TEXT NOT NULL, decision TEXT NOT NULL, disposition TEXT, by TEXT NOT NULL, at_ms INTEGER NOT NULL,
  waited_ms INTEGER NOT NULL, source TEXT NOT NULL, proposed TEXT NOT NULL, chosen TEXT NOT NULL, undone_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX triage_decision_time ON triage_decision (project, at_ms);
CREATE INDEX triage_decision_item ON triage_decision (item_key, at_ms);
-- What one merge took along, so that a split gives back exactly that.
CREATE TABLE item_merge (
  item_key TEXT PRIMARY KEY, into_key TEXT NOT NULL, follower_ids TEXT NOT NULL, assertion_ids TEXT NOT NULL, fault TEXT, by TEXT NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX item_merge_into ON item_merge (into_key, at_ms);
CREATE TABLE routing_rule (
  rule_id TEXT PRIMARY KEY, project TEXT NOT NULL, position INTEGER NOT NULL, name TEXT NOT NULL, conditions TEXT NOT NULL, sets TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX routing_rule_project ON routing_rule (project, position);
CREATE TABLE duty (project TEXT NOT NULL, week_on TEXT NOT NULL, person_id TEXT NOT NULL, PRIMARY KEY (project, week_on)) STRICT, WITHOUT ROWID;

-- Inbox: later, and by which way. What was told before is not mailed again.
ALTER TABLE notice ADD COLUMN snoozed_until_ms INTEGER;
ALTER TABLE notice ADD COLUMN mailed_at_ms INTEGER;
ALTER TABLE notice ADD COLUMN way TEXT NOT NULL DEFAULT 'screen';
CREATE INDEX notice_to_mail ON notice (person_id, item_key, at_ms) WHERE mailed_at_ms IS NULL AND way <> 'screen';
DROP INDEX notice_unread;
CREATE INDEX notice_unread ON notice (person_id, at_ms DESC, notice_id) WHERE read_at_ms IS NULL;
CREATE INDEX notice_item ON notice (person_id, item_key, at_ms DESC, notice_id);
CREATE INDEX notice_by_item ON notice (item_key, person_id);
CREATE TABLE notice_choice (person_id TEXT NOT NULL, why TEXT NOT NULL, way TEXT NOT NULL, PRIMARY KEY (person_id, why)) STRICT, WITHOUT ROWID;

-- What somebody has in hand, and what they parked for it.
CREATE TABLE in_hand (
  person_id TEXT NOT NULL, item_key TEXT NOT NULL, taken_at_ms INTEGER NOT NULL, parked_at_ms INTEGER, branch TEXT, worked_ms INTEGER NOT NULL, offered_ms INTEGER NOT NULL, PRIMARY KEY (person_id, item_key)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX in_hand_one ON in_hand (person_id) WHERE parked_at_ms IS NULL;

-- Secret: a private note is its writer's alone and can be thrown away, so it never enters the journal.
CREATE TABLE private_note (person_id TEXT NOT NULL, item_key TEXT NOT NULL, text TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (person_id, item_key)) STRICT, WITHOUT ROWID;

-- Comments can be found by their words. A cache: what was written before is taken in here.
CREATE TABLE comment_search_row (rowid INTEGER PRIMARY KEY, comment_id TEXT NOT NULL UNIQUE, item_key TEXT NOT NULL) STRICT;
CREATE INDEX comment_search_item ON comment_search_row (item_key);
CREATE VIRTUAL TABLE comment_search USING fts5 (text, tokenize = 'porter unicode61 remove_diacritics 2');
INSERT INTO comment_search_row (comment_id, item_key) SELECT comment_id, item_key FROM comment;
INSERT INTO comment_search (rowid, text) SELECT r.rowid, c.text FROM comment_search_row r JOIN comment c ON c.comment_id = r.comment_id;

-- Saved ways of looking.
CREATE TABLE saved_view (
  view_id TEXT PRIMARY KEY, project TEXT NOT NULL, owner_id TEXT NOT NULL, name TEXT NOT NULL, filter TEXT NOT NULL, sort TEXT NOT NULL, columns TEXT NOT NULL, is_shared INTEGER NOT NULL, at_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX saved_view_project ON saved_view (project, name);
CREATE INDEX saved_view_owner ON saved_view (owner_id);
CREATE TABLE pinned_view (person_id TEXT NOT NULL, view_id TEXT NOT NULL, PRIMARY KEY (person_id, view_id)) STRICT, WITHOUT ROWID;
CREATE INDEX pinned_view_view ON pinned_view (view_id);
