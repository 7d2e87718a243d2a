import type { ExploringEvents } from '@dystracer/core/exploring/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

interface Of {
  project: string
  explorationId: string
}

/** How the events of explorations stand in the tables. */
export const exploringAppliers: Appliers<ExploringEvents> = {
  'exploration-begun': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO exploration (project, exploration_id, question, text, points, about, release, box_minutes, by, at_ms)
        VALUES (@project, @explorationId, @question, @text, @points, @about, @release, @boxMinutes, @by, @atMs)`,
    ).run({ ...body, points: JSON.stringify(body.points), about: JSON.stringify(body.about), by: actor, atMs })
  },
  'exploration-changed': (db, { body }) => {
    sql(
      db,
      `UPDATE exploration SET question = @question, text = @text, points = @points, about = @about, release = @release,
          box_minutes = @boxMinutes WHERE project = @project AND exploration_id = @explorationId`,
    ).run({ ...body, points: JSON.stringify(body.points), about: JSON.stringify(body.about) })
  },
  'exploration-point-set': (db, { body: { project, explorationId, point, isDone } }) => {
    const done = new Set(
      sql(db, `SELECT value AS point FROM exploration, json_each(done_points) WHERE project = @project AND exploration_id = @explorationId`)
        .all<{ point: string }>({ project, explorationId })
        .map((row) => row.point),
    )
    if (isDone) done.add(point)
    else done.delete(point)
    sql(db, 'UPDATE exploration SET done_points = @done WHERE project = @project AND exploration_id = @explorationId').run({
      project,
      explorationId,
      done: JSON.stringify([...done].sort()),
    })
  },
  'exploration-clock-set': (db, { body, atMs }) => setClock(db, body, body.isRunning ? atMs : null, atMs),
  'exploration-noted': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO exploration_note (note_id, exploration_id, project, sort, words, item, by, at_ms)
        VALUES (@noteId, @explorationId, @project, @sort, @words, @item, @by, @atMs)`,
    ).run({ ...body, by: actor, atMs })
  },
  'exploration-note-removed': (db, { body: { noteId }, atMs }) => {
    sql(db, 'UPDATE exploration_note SET removed_at_ms = @atMs WHERE note_id = @noteId').run({ noteId, atMs })
  },
  'exploration-ended': (db, { body: { isEnded, words, ...of }, actor, atMs }) => {
    if (isEnded) setClock(db, of, null, atMs)
    sql(
      db,
      `UPDATE exploration SET ended_by = @by, ended_at_ms = @endedAtMs, ended_words = @words
        WHERE project = @project AND exploration_id = @explorationId`,
    ).run({ ...of, by: isEnded ? actor : null, endedAtMs: isEnded ? atMs : null, words: isEnded ? words : null })
  },
}

/** What ran until now is counted; from here it runs, or stands. A clock that was set back counts nothing. */
function setClock(db: Db, { project, explorationId }: Of, sinceMs: number | null, atMs: number): void {
  sql(
    db,
    `UPDATE exploration SET spent_ms = spent_ms + coalesce(max(0, @atMs - running_since_ms), 0), running_since_ms = @sinceMs
      WHERE project = @project AND exploration_id = @explorationId`,
  ).run({ project, explorationId, sinceMs, atMs })
}
