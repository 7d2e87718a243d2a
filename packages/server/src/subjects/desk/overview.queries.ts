import { ITEM_COLUMNS, VISIBLE_ITEM } from '#subjects/records/index'

// Of readMe; reads the table.
export const LIST_PROJECT = 'SELECT prefix, name FROM project ORDER BY prefix'

// Of readMe; reads the table, and for each person the primary key of memberships; at most 1000 rows. Whom an asker meets, or met, in no
// project of theirs, they do not hear of.
export const LIST_PERSON = `SELECT p.person_id AS personId, p.name, p.initials, m.role
  FROM person p LEFT JOIN membership m ON m.person_id = p.person_id AND m.project = @prefix
  WHERE @readsAll = 1 OR EXISTS (
    SELECT 1 FROM membership o WHERE o.person_id = p.person_id AND o.project IN (SELECT value FROM json_each(@readable)))
    OR EXISTS (SELECT 1 FROM former_member o WHERE o.person_id = p.person_id AND o.project IN (SELECT value FROM json_each(@readable)))
  ORDER BY p.name LIMIT 1000`

// Of search; one row.
export const GET_ITEM_BY_KEY = `SELECT ${ITEM_COLUMNS} FROM item i WHERE i.key = @key AND ${VISIBLE_ITEM}` as const

// Of search; by the primary key; one row.
export const GET_FAULT_BY_NUMBER = 'SELECT number, type, message FROM fault WHERE number = @number'

// Of search; reads the table; at most 4 rows.
export const LIST_REQUIREMENT_BY_KEY_AND_LIKE = `SELECT key, title FROM requirement
      WHERE is_heading = 0 AND (key = @key OR title LIKE @like ESCAPE '\\')
      AND substr(key, 1, instr(key, '-') - 1) NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY key = @key DESC, position LIMIT 4`

// Of search; by git_commit_sha; at most 5 rows.
export const LIST_GIT_COMMIT_BY_Q = `SELECT repository, sha, message FROM git_commit
  WHERE sha >= @q AND sha < @q || 'g' AND repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY sha LIMIT 5`
