import type { TrainsEvents } from '@dystracer/core/trains/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

const OF = 'project = @project AND train_id = @trainId'

/** How the events of trains stand in the tables. */
export const trainsAppliers: Appliers<TrainsEvents> = {
  'train-planned': (db, { body, actor, atMs }) => {
    // Another filter, or a plan that was looked at again, is waited for anew.
    sql(
      db,
      `INSERT INTO train (project, train_id, name, words, leaves_on, waits_for, makes, cars, by, at_ms)
        VALUES (@project, @trainId, @name, @words, @leavesOn, @waitsFor, @makes, @cars, @by, @atMs)
        ON CONFLICT (project, train_id) DO UPDATE SET name = excluded.name, words = excluded.words, leaves_on = excluded.leaves_on,
          ready_at_ms = CASE WHEN excluded.waits_for = train.waits_for THEN train.ready_at_ms END, held_why = NULL,
          waits_for = excluded.waits_for, makes = excluded.makes, cars = excluded.cars`,
    ).run({ ...body, makes: Number(body.makes), cars: JSON.stringify(body.cars), by: actor, atMs })
  },
  'train-called-off': (db, { body: { project, trainId, isCalledOff, words }, actor, atMs }) => {
    sql(db, `UPDATE train SET called_off_words = @words, called_off_by = @by, called_off_at_ms = @calledOffAtMs WHERE ${OF}`).run({
      project,
      trainId,
      words: isCalledOff ? words : null,
      by: isCalledOff ? actor : null,
      calledOffAtMs: isCalledOff ? atMs : null,
    })
  },
  'train-ready': (db, { body: { project, trainId }, atMs }) => {
    sql(db, `UPDATE train SET ready_at_ms = @atMs WHERE ${OF}`).run({ project, trainId, atMs })
  },
  'train-held': (db, { body: { project, trainId, why } }) => {
    sql(db, `UPDATE train SET held_why = @why WHERE ${OF}`).run({ project, trainId, why })
  },
}
