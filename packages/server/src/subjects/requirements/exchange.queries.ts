// Of importRequirements and exports; reads the table: the requirements of a project with where they came from.
export const LIST_REQUIREMENT_WITH_ORIGIN = `SELECT r.key, r.title, r.text, r.parent, r.is_heading, r.revision, r.position, r.attributes,
    r.retired_at_ms, r.retired_words, o.document, o.object, o.origin,
    (SELECT max(v.at_ms) FROM requirement_revision v WHERE v.key = r.key) AS changed_at_ms
  FROM requirement r JOIN key_prefix k ON k.prefix = substr(r.key, 1, instr(r.key, '-') - 1)
  LEFT JOIN requirement_origin o ON o.key = r.key WHERE k.project = @project ORDER BY r.position, r.key`

// Of prefixes of a project; reads a small table.
export const LIST_REQUIREMENT_PREFIX = "SELECT prefix, project, kind FROM key_prefix WHERE kind = 'requirement' OR project = @project"

// Of attributesOf; by the primary key; one row.
export const GET_OWN_ATTRIBUTES = 'SELECT attributes FROM requirement_attributes WHERE project = @project'

// Of exports; by the primary key, the newest first.
export const LIST_KEPT_DOCUMENT = `SELECT document_id, kept, at_ms FROM requirement_document WHERE project = @project
  ORDER BY at_ms DESC, document_id`

// Of exports and imports; by the primary key.
export const LIST_RELATION_OF_PROJECT = `SELECT relation_id AS relationId, name, from_key AS "from", to_key AS "to", words
  FROM requirement_relation WHERE project = @project ORDER BY relation_id`

// Of readRequirement; by the two indices.
export const LIST_RELATION_OF_REQUIREMENT = `SELECT r.relation_id AS relationId, r.name, r.words, 1 AS isOut, q.key, q.title
    FROM requirement_relation r JOIN requirement q ON q.key = r.to_key WHERE r.from_key = @key
  UNION ALL SELECT r.relation_id, r.name, r.words, 0, q.key, q.title
    FROM requirement_relation r JOIN requirement q ON q.key = r.from_key WHERE r.to_key = @key
  ORDER BY isOut DESC, name, key`

// Of unrelateRequirement; by the primary key; one row.
export const GET_RELATION = `SELECT name, from_key AS "from", to_key AS "to" FROM requirement_relation
  WHERE project = @project AND relation_id = @relationId`

// Of findLoopOfRelations; by the index, upwards along one name.
export const LIST_RELATED_UPWARDS = `WITH RECURSIVE above (key) AS (
    SELECT @from UNION SELECT r.to_key FROM above a JOIN requirement_relation r ON r.from_key = a.key WHERE r.name = @name)
  SELECT key FROM above`

// Of pictures; by the primary key; one row.
export const GET_PICTURE = 'SELECT media_type, content FROM requirement_picture WHERE project = @project AND path = @path'

// Of exportReqifz; by the primary key.
export const LIST_PICTURE = 'SELECT path, content FROM requirement_picture WHERE project = @project ORDER BY path'

// Of titleOf; by the primary key; one row.
export const GET_PROJECT_NAME = 'SELECT name FROM project WHERE prefix = @project'

// Of isTaken; by the primary key; one row.
export const GET_ANY_PREFIX = 'SELECT 1 FROM key_prefix WHERE prefix = @prefix'

// Of listAcceptedWriting; by the primary keys of the project's requirements.
export const LIST_ACCEPTED_WRITING = `SELECT a.key, a.code, a.words, a.reason, a.by FROM requirement r
  JOIN key_prefix k ON k.prefix = substr(r.key, 1, instr(r.key, '-') - 1) JOIN writing_accepted a ON a.key = r.key
  WHERE k.project = @project ORDER BY a.key, a.code, a.words`
