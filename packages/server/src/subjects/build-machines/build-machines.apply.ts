import type { BuildMachinesEvents } from '@dystracer/core/build-machines/events'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of wanted builds stand in the tables. */
export const buildMachinesAppliers: Appliers<BuildMachinesEvents> = {
  'build-wanted': (db, { body, actor, atMs }) => {
    sql(
      db,
      `INSERT INTO wanted_build (wanted_id, repository, branch, sha, again, is_by_push, by, wanted_at_ms)
        VALUES (@wantedId, @repository, @branch, @sha, @again, @isByPush, @actor, @atMs)`,
    ).run({ ...body, isByPush: Number(body.isByPush), actor, atMs })
  },
  'build-taken': (db, { body, atMs }) => {
    sql(db, 'UPDATE wanted_build SET machine = @machine, number = @number, taken_at_ms = @atMs WHERE wanted_id = @wantedId').run({
      ...body,
      atMs,
    })
  },
  'build-stop-wanted': (db, { body }) => {
    sql(db, 'UPDATE wanted_build SET is_stop_wanted = 1 WHERE wanted_id = @wantedId').run(body)
  },
  'wanted-build-ended': (db, { body, atMs }) => {
    sql(db, 'UPDATE wanted_build SET outcome = @outcome, ended_at_ms = @atMs WHERE wanted_id = @wantedId').run({ ...body, atMs })
  },
}
