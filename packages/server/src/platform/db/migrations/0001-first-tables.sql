-- Every table is declared in db/table-classes.ts as projection, cache or secret.
CREATE TABLE meta (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE journal (
  seq INTEGER PRIMARY KEY, kind TEXT NOT NULL, at_ms INTEGER NOT NULL, recorded_at_ms INTEGER NOT NULL, actor TEXT NOT NULL,
  cause TEXT, source TEXT, subjects TEXT NOT NULL, idempotency_key TEXT UNIQUE, body TEXT NOT NULL
) STRICT;
CREATE INDEX journal_actor ON journal (actor, seq);
CREATE INDEX journal_undone ON journal (json_extract(body, '$.seq')) WHERE kind = 'change-undone';
CREATE TABLE journal_subject (subject TEXT NOT NULL, seq INTEGER NOT NULL, PRIMARY KEY (subject, seq)) STRICT, WITHOUT ROWID;

CREATE TABLE project (prefix TEXT PRIMARY KEY, name TEXT NOT NULL, silence_ms INTEGER NOT NULL, last_number INTEGER NOT NULL DEFAULT 0) STRICT, WITHOUT ROWID;
CREATE TABLE key_prefix (prefix TEXT PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('item', 'requirement')), project TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE person (person_id TEXT PRIMARY KEY, name TEXT NOT NULL, initials TEXT NOT NULL, email TEXT NOT NULL UNIQUE COLLATE NOCASE) STRICT, WITHOUT ROWID;
CREATE TABLE membership (project TEXT NOT NULL, person_id TEXT NOT NULL REFERENCES person, role TEXT NOT NULL, PRIMARY KEY (project, person_id)) STRICT, WITHOUT ROWID;
CREATE INDEX membership_person ON membership (person_id);
CREATE TABLE component (project TEXT NOT NULL, name TEXT NOT NULL, keeper_id TEXT, repository TEXT, path_prefix TEXT, PRIMARY KEY (project, name)) STRICT, WITHOUT ROWID;

CREATE TABLE requirement (
  key TEXT PRIMARY KEY, title TEXT NOT NULL, text TEXT NOT NULL, parent TEXT, is_heading INTEGER NOT NULL, revision INTEGER NOT NULL, position INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE requirement_revision (
  key TEXT NOT NULL, revision INTEGER NOT NULL, title TEXT NOT NULL, text TEXT NOT NULL, at_ms INTEGER NOT NULL, by TEXT, PRIMARY KEY (key, revision)
) STRICT, WITHOUT ROWID;

CREATE TABLE item (
  key TEXT PRIMARY KEY, project TEXT NOT NULL, number INTEGER NOT NULL, type TEXT NOT NULL, title TEXT NOT NULL, description TEXT NOT NULL,
  severity INTEGER, owner_id TEXT, reporter_id TEXT, component TEXT, milestone TEXT, labels TEXT NOT NULL DEFAULT '[]', due_on TEXT, found_in TEXT, estimate_minutes INTEGER,
  priority TEXT, co_owner_ids TEXT NOT NULL DEFAULT '[]', sprint TEXT, points REAL, planned_for TEXT, classification TEXT, own_values TEXT NOT NULL DEFAULT '{}',
  is_confidential INTEGER NOT NULL DEFAULT 0, named_ids TEXT NOT NULL DEFAULT '[]', is_archived INTEGER NOT NULL DEFAULT 0, came_from TEXT,
  logged_cause TEXT NOT NULL, logged_by TEXT NOT NULL, fault TEXT, created_at_ms INTEGER NOT NULL, updated_at_ms INTEGER NOT NULL, revision INTEGER NOT NULL DEFAULT 1,
  accepted_at_ms INTEGER, accepted_by TEXT, started_at_ms INTEGER, started_by TEXT, disposition TEXT, disposed_at_ms INTEGER, disposed_by TEXT, disposed_words TEXT,
  verified_at_ms INTEGER, verified_by TEXT, stage TEXT NOT NULL DEFAULT 'logged', stage_rank INTEGER NOT NULL DEFAULT 0, stair TEXT NOT NULL DEFAULT 'pwwwwww', ladder TEXT,
  has_come_back INTEGER NOT NULL DEFAULT 0, has_drift INTEGER NOT NULL DEFAULT 0, is_open INTEGER NOT NULL DEFAULT 1, UNIQUE (project, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX item_worst ON item (coalesce(severity, 9), created_at_ms DESC, key);
CREATE INDEX item_newest ON item (created_at_ms DESC, key);
CREATE INDEX item_updated ON item (updated_at_ms DESC, key);
CREATE INDEX item_waiting ON item (is_open, stage_rank, created_at_ms);
CREATE INDEX item_owner ON item (owner_id, is_open);
CREATE INDEX item_fault ON item (fault) WHERE fault IS NOT NULL;

CREATE TABLE claim (item_key TEXT NOT NULL, stage TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, words TEXT NOT NULL, PRIMARY KEY (item_key, stage)) STRICT, WITHOUT ROWID;
CREATE TABLE key_alias (alias TEXT PRIMARY KEY, key TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE INDEX key_alias_key ON key_alias (key);
CREATE TABLE follower (item_key TEXT NOT NULL, person_id TEXT NOT NULL, PRIMARY KEY (item_key, person_id)) STRICT, WITHOUT ROWID;
CREATE INDEX follower_person ON follower (person_id, item_key);
CREATE TABLE item_type (project TEXT NOT NULL, type TEXT NOT NULL, is_defect INTEGER NOT NULL, position INTEGER NOT NULL, fields TEXT NOT NULL, template TEXT NOT NULL, PRIMARY KEY (project, type)) STRICT, WITHOUT ROWID;
CREATE TABLE own_field (
  project TEXT NOT NULL, field_id TEXT NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL, choices TEXT NOT NULL, types TEXT NOT NULL, colour TEXT, position INTEGER NOT NULL, PRIMARY KEY (project, field_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE stage_rule (project TEXT NOT NULL, stage TEXT NOT NULL, needs TEXT NOT NULL, PRIMARY KEY (project, stage)) STRICT, WITHOUT ROWID;
CREATE TABLE project_setting (project TEXT NOT NULL, name TEXT NOT NULL, value TEXT NOT NULL, PRIMARY KEY (project, name)) STRICT, WITHOUT ROWID;
CREATE TABLE notice (
  notice_id TEXT PRIMARY KEY, person_id TEXT NOT NULL, item_key TEXT NOT NULL, why TEXT NOT NULL, by TEXT NOT NULL, words TEXT NOT NULL, at_ms INTEGER NOT NULL, read_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX notice_person ON notice (person_id, at_ms DESC, notice_id);
CREATE INDEX notice_unread ON notice (person_id) WHERE read_at_ms IS NULL;
CREATE TABLE attachment (
  attachment_id TEXT PRIMARY KEY, item_key TEXT NOT NULL, name TEXT NOT NULL, media_type TEXT NOT NULL, size_bytes INTEGER NOT NULL, sha256 TEXT NOT NULL, has_thumbnail INTEGER NOT NULL,
  by TEXT NOT NULL, at_ms INTEGER NOT NULL, removed_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX attachment_item ON attachment (item_key, at_ms);
CREATE TABLE comment (
  comment_id TEXT PRIMARY KEY, item_key TEXT NOT NULL, by TEXT NOT NULL, at_ms INTEGER NOT NULL, text TEXT NOT NULL, reply_to TEXT, edited_at_ms INTEGER, from_address TEXT
) STRICT, WITHOUT ROWID;
CREATE TABLE comment_revision (comment_id TEXT NOT NULL, revision INTEGER NOT NULL, text TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (comment_id, revision)) STRICT, WITHOUT ROWID;
CREATE TABLE comment_reaction (comment_id TEXT NOT NULL, person_id TEXT NOT NULL, reaction TEXT NOT NULL, PRIMARY KEY (comment_id, person_id, reaction)) STRICT, WITHOUT ROWID;
CREATE INDEX comment_item ON comment (item_key, at_ms);
CREATE TABLE time_entry (
  entry_id TEXT PRIMARY KEY, item_key TEXT NOT NULL, person_id TEXT NOT NULL, minutes INTEGER NOT NULL, on_day TEXT NOT NULL, provenance TEXT NOT NULL, at_ms INTEGER NOT NULL, taken_back_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX time_entry_item ON time_entry (item_key, at_ms);
CREATE INDEX time_entry_day ON time_entry (on_day);

CREATE TABLE link_assertion (
  assertion_id TEXT PRIMARY KEY, link_id TEXT NOT NULL, kind TEXT NOT NULL, from_kind TEXT NOT NULL, from_id TEXT NOT NULL, to_kind TEXT NOT NULL, to_id TEXT NOT NULL,
  provenance TEXT NOT NULL, source TEXT, stated_by TEXT, at_ms INTEGER NOT NULL, target_revision INTEGER, retracted_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX link_from ON link_assertion (from_kind, from_id, kind) WHERE retracted_at_ms IS NULL;
CREATE INDEX link_to ON link_assertion (to_kind, to_id, kind) WHERE retracted_at_ms IS NULL;
CREATE INDEX link_source ON link_assertion (source) WHERE retracted_at_ms IS NULL;
CREATE TABLE link_veto (link_id TEXT NOT NULL, source TEXT NOT NULL, PRIMARY KEY (link_id, source)) STRICT, WITHOUT ROWID;

CREATE TABLE repository (name TEXT PRIMARY KEY, url TEXT NOT NULL, main_branch TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE git_ref (
  repository TEXT NOT NULL, ref TEXT NOT NULL, sha TEXT, first_seen_at_ms INTEGER NOT NULL, moved_at_ms INTEGER NOT NULL, forced_at_ms INTEGER, deleted_at_ms INTEGER, PRIMARY KEY (repository, ref)
) STRICT, WITHOUT ROWID;
CREATE TABLE pull_request (
  repository TEXT NOT NULL, number INTEGER NOT NULL, title TEXT NOT NULL, body TEXT NOT NULL, state TEXT NOT NULL, author TEXT NOT NULL, head TEXT NOT NULL, base TEXT NOT NULL,
  head_sha TEXT NOT NULL, merge_sha TEXT, created_at_ms INTEGER NOT NULL, updated_at_ms INTEGER NOT NULL, version INTEGER NOT NULL, PRIMARY KEY (repository, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX pull_request_updated ON pull_request (updated_at_ms DESC, repository, number);
CREATE INDEX pull_request_head ON pull_request (repository, head, number);
CREATE TABLE build (
  repository TEXT NOT NULL, number INTEGER NOT NULL, sha TEXT NOT NULL, branch TEXT NOT NULL, state TEXT NOT NULL, started_at_ms INTEGER NOT NULL, finished_at_ms INTEGER,
  passed INTEGER NOT NULL DEFAULT 0, failed INTEGER NOT NULL DEFAULT 0, skipped INTEGER NOT NULL DEFAULT 0, PRIMARY KEY (repository, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX build_started ON build (started_at_ms DESC, repository, number);
CREATE INDEX build_sha ON build (repository, sha, number);
CREATE TABLE test_result (
  repository TEXT NOT NULL, build INTEGER NOT NULL, suite TEXT NOT NULL, name TEXT NOT NULL, outcome TEXT NOT NULL, duration_ms REAL NOT NULL, message TEXT NOT NULL, verifies TEXT NOT NULL,
  PRIMARY KEY (repository, build, suite, name)
) STRICT, WITHOUT ROWID;

CREATE TABLE service (name TEXT PRIMARY KEY, project TEXT NOT NULL, repository TEXT NOT NULL, tag_prefix TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE environment (name TEXT PRIMARY KEY, kind TEXT NOT NULL, needs_approval INTEGER NOT NULL, position INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE release (
  service TEXT NOT NULL, name TEXT NOT NULL, tag TEXT NOT NULL, sha TEXT NOT NULL, at_ms INTEGER NOT NULL, is_rewritten INTEGER NOT NULL DEFAULT 0, PRIMARY KEY (service, name)
) STRICT, WITHOUT ROWID;
CREATE TABLE deployment (
  deployment_id TEXT PRIMARY KEY, service TEXT NOT NULL, release TEXT NOT NULL, environment TEXT NOT NULL, state TEXT NOT NULL, asked_by TEXT, approved_by TEXT, at_ms INTEGER NOT NULL, running_at_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX deployment_place ON deployment (service, environment, running_at_ms);

CREATE TABLE fault (
  number INTEGER PRIMARY KEY, fingerprint TEXT NOT NULL UNIQUE, service TEXT NOT NULL, type TEXT NOT NULL, message TEXT NOT NULL, masked_message TEXT NOT NULL, place TEXT,
  reason TEXT NOT NULL, trace_digest TEXT NOT NULL, first_seen_at_ms INTEGER NOT NULL
) STRICT;
CREATE TABLE intake_rule (
  rule_id TEXT PRIMARY KEY, project TEXT NOT NULL, name TEXT NOT NULL, environment_kind TEXT NOT NULL, severity_at_least TEXT NOT NULL, count_at_least INTEGER NOT NULL, window_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE rule_firing (rule_id TEXT NOT NULL, fault INTEGER NOT NULL, item_key TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (rule_id, fault)) STRICT, WITHOUT ROWID;

-- Caches: rebuilt from git or from the tables above.
CREATE TABLE git_commit (
  repository TEXT NOT NULL, sha TEXT NOT NULL, parents TEXT NOT NULL, patch_id TEXT, author_name TEXT NOT NULL, author_email TEXT NOT NULL, author_at_ms INTEGER NOT NULL,
  committed_at_ms INTEGER NOT NULL, message TEXT NOT NULL, reverts TEXT NOT NULL, files TEXT NOT NULL, seen_at_ms INTEGER, PRIMARY KEY (repository, sha)
) STRICT, WITHOUT ROWID;
CREATE INDEX git_commit_time ON git_commit (repository, committed_at_ms DESC, sha);
CREATE INDEX git_commit_sha ON git_commit (sha, repository);
CREATE INDEX git_commit_all ON git_commit (committed_at_ms DESC, repository, sha);
CREATE TABLE repository_state (repository TEXT PRIMARY KEY, fetched_at_ms INTEGER, trouble TEXT, retry_at_ms INTEGER, failures INTEGER NOT NULL DEFAULT 0) STRICT, WITHOUT ROWID;
-- The search index numbers its rows itself: numbers of items are only unique within a project.
CREATE TABLE item_search_row (rowid INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE) STRICT;
CREATE VIRTUAL TABLE item_search USING fts5 (key UNINDEXED, title, description, tokenize = 'porter unicode61 remove_diacritics 2');

-- Secrets: never in the journal, exports or logs.
CREATE TABLE credential (person_id TEXT PRIMARY KEY, password_hash TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE session (session_hash TEXT PRIMARY KEY, person_id TEXT NOT NULL, csrf_token TEXT NOT NULL, expires_at_ms INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE access_token (token_hash TEXT PRIMARY KEY, name TEXT NOT NULL, project TEXT, scope TEXT NOT NULL, created_at_ms INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE answered_request (
  asked_by TEXT NOT NULL, key TEXT NOT NULL, request_hash TEXT NOT NULL, status INTEGER NOT NULL, body TEXT NOT NULL, at_ms INTEGER NOT NULL, PRIMARY KEY (asked_by, key)
) STRICT, WITHOUT ROWID;
CREATE INDEX answered_request_age ON answered_request (at_ms);
CREATE TABLE secret (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;
