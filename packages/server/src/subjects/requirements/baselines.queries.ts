// Of listBaselines; by the primary key; hundreds of rows at most.
export const LIST_BASELINE = `SELECT baseline_id AS baselineId, name, words, hash, at_ms AS atMs, by, snapshot,
    withdrawn_words AS withdrawn FROM baseline
    WHERE project = @project ORDER BY at_ms DESC, baseline_id`

// Of listBaselines; by the primary key.
export const LIST_AGREEMENT =
  'SELECT person_id AS personId, at_ms AS atMs FROM baseline_agreement WHERE baseline_id = @baselineId ORDER BY at_ms, person_id'

// Of requireBaseline; by the primary key; one row.
export const GET_BASELINE = `SELECT baseline_id AS baselineId, name, snapshot, withdrawn_words AS withdrawn
  FROM baseline WHERE project = @project AND baseline_id = @baselineId`

// Of snapshotNow; reads the table: the requirements of a project.
export const LIST_HELD_REQUIREMENT = `SELECT r.key, r.revision, r.parent, r.retired_at_ms IS NOT NULL AS isRetired FROM requirement r
    JOIN key_prefix k ON k.prefix = substr(r.key, 1, instr(r.key, '-') - 1) WHERE k.project = @project ORDER BY r.key`

// Of snapshotNow; by link_to.
export const LIST_HELD_LINK = `SELECT DISTINCT l.kind, l.from_id AS item, l.to_id AS requirement FROM json_each(@keys) k
    JOIN link_assertion l ON l.to_kind = 'requirement' AND l.to_id = k.value AND l.from_kind = 'item'
      AND l.retracted_at_ms IS NULL ORDER BY l.from_id, l.to_id`

// Of textAt; by the primary key; one row.
export const GET_REVISION = 'SELECT title, text, because FROM requirement_revision WHERE key = @key AND revision = @revision'
