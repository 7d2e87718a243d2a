export const COLUMNS = 'key, title, text, parent, is_heading, revision, position, retired_at_ms, retired_words, attributes'

// Of listRequirements; at most 20000 rows.
export const LIST_REQUIREMENT = `SELECT ${COLUMNS} FROM requirement
    WHERE substr(key, 1, instr(key, '-') - 1) NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY position, key LIMIT 20000` as const

// Of verifyingTests; by the primary key: the results of the newest build of each main line.
export const LIST_VERIFYING_TEST = `SELECT v.value AS key, t.repository, t.build, t.name, t.outcome FROM repository r
    CROSS JOIN test_result t CROSS JOIN json_each(t.verifies) v
    WHERE t.repository = r.name AND (@key IS NULL OR v.value = @key)
      AND t.build = (SELECT max(b.number) FROM build b
      WHERE b.repository = r.name AND b.branch = r.main_branch AND b.finished_at_ms IS NOT NULL)
      ORDER BY t.repository, t.name`

// Of toRequirement; by the primary key; one row.
export const GET_IS_OPEN_OF_ITEM_BY_KEY = 'SELECT is_open FROM item WHERE key = @key'

// Of requireRow; one row.
export const GET_REQUIREMENT_BY_KEY = `SELECT ${COLUMNS} FROM requirement WHERE key = @key` as const

// Of readRequirement; reads the table.
export const LIST_REQUIREMENT_BY_KEY = 'SELECT key FROM requirement WHERE parent = @key ORDER BY position'

// Of readRequirement; by the primary key.
export const LIST_REQUIREMENT_REVISION_BY_KEY =
  'SELECT revision, title, text, because, is_minor, at_ms AS atMs, by FROM requirement_revision WHERE key = @key ORDER BY revision DESC'

// Of beginRequirement; by the primary key; one row.
export const GET_KEY_PREFIX_BY_PREFIX = 'SELECT kind, project FROM key_prefix WHERE prefix = @prefix'

// Of beginRequirement; reads the prefix's keys by the primary key.
export const LAST_NUMBER_OF_REQUIREMENT_BY_PREFIX = `SELECT max(CAST(substr(key, length(@prefix) + 2) AS INTEGER)) AS
    number FROM requirement
    WHERE key >= @prefix || '-' AND key < @prefix || '.'`

// Of beginRequirement; reads the table.
export const GET_LAST_OF_REQUIREMENT = 'SELECT max(position) AS position FROM requirement'

// Of placeRequirement; reads the table: those that stand below one, or at the top of a project.
export const LIST_SIBLING_OF_REQUIREMENT = `SELECT r.key FROM requirement r
    JOIN key_prefix k ON k.prefix = substr(r.key, 1, instr(r.key, '-') - 1)
    WHERE r.parent IS @parent AND k.project = @project ORDER BY r.position, r.key`

// Of listGaps; reads the table: the requirements of a project.
export const LIST_REQUIREMENT_OF_PROJECT = `SELECT r.key, r.title, r.text, r.parent FROM requirement r
    JOIN key_prefix k ON k.prefix = substr(r.key, 1, instr(r.key, '-') - 1) WHERE k.project = @project ORDER BY r.position, r.key`

// Of checksOf; by the primary keys and test_done_case: the newest result of each case in each environment, of one requirement or all.
export const LIST_CHECK = `SELECT v.value AS key, c.number, c.title, d.environment, d.outcome, d.by, d.at_ms AS atMs,
    d.revision < c.revision OR d.at_ms < (SELECT max(q.at_ms) FROM requirement_revision q WHERE q.key = v.value
      AND q.is_minor = 0) AS isStale
  FROM project CROSS JOIN test_case c ON c.project = project.prefix CROSS JOIN json_each(c.verifies) v
  CROSS JOIN test_done d ON d.project = c.project AND d.number = c.number
  WHERE c.is_retired = 0 AND (@key IS NULL OR v.value = @key) AND d.result_id = (SELECT o.result_id FROM test_done o
    WHERE o.project = d.project AND o.number = d.number AND o.environment = d.environment ORDER BY o.at_ms DESC, o.result_id DESC LIMIT 1)
  ORDER BY c.number, d.environment`
