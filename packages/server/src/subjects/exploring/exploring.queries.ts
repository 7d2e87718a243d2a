const COLUMNS = `exploration_id, question, text, points, about, release, box_minutes, by, at_ms, done_points, spent_ms, running_since_ms,
    ended_by, ended_at_ms, ended_words`

// Of listExplorations; by the primary key, each note by the index of notes; at most 500 rows.
export const LIST_EXPLORATION = `SELECT ${COLUMNS},
    (SELECT count(*) FROM exploration_note n WHERE n.project = e.project AND n.exploration_id = e.exploration_id
      AND n.removed_at_ms IS NULL) AS notes,
    (SELECT count(*) FROM exploration_note n WHERE n.project = e.project AND n.exploration_id = e.exploration_id
      AND n.removed_at_ms IS NULL AND n.sort = 'trouble') AS trouble
    FROM exploration e WHERE e.project = @project ORDER BY e.ended_at_ms IS NOT NULL, e.at_ms DESC, e.exploration_id LIMIT 500` as const

// Of readExploration; by the primary key; one row.
export const GET_EXPLORATION = `SELECT ${COLUMNS} FROM exploration WHERE project = @project AND exploration_id = @explorationId` as const

// Of readExploration; by the index of notes.
export const LIST_EXPLORATION_NOTE = `SELECT note_id AS noteId, sort, words, item, by, at_ms AS atMs FROM exploration_note
    WHERE project = @project AND exploration_id = @explorationId AND removed_at_ms IS NULL ORDER BY at_ms, note_id LIMIT 2000`
