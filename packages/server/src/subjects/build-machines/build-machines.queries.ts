import type { WantedOutcome } from '@dystracer/core/build-machines/events'

/** One row of `wanted_build`. */
export interface WantedRow {
  wantedId: string
  repository: string
  branch: string
  sha: string
  again: number | null
  isByPush: 0 | 1
  by: string
  wantedAtMs: number
  machine: string | null
  number: number | null
  takenAtMs: number | null
  isStopWanted: 0 | 1
  outcome: WantedOutcome | null
  endedAtMs: number | null
}
const COLUMNS = `wanted_id AS wantedId, repository, branch, sha, again, is_by_push AS isByPush, by,
    wanted_at_ms AS wantedAtMs, machine, number,
    taken_at_ms AS takenAtMs, is_stop_wanted AS isStopWanted, outcome, ended_at_ms AS endedAtMs`

// Of requireWanted; by the primary key; one row.
export const GET_WANTED = `SELECT ${COLUMNS} FROM wanted_build WHERE wanted_id = @wantedId`

// Of takeWantedBuild and listWantedBuilds; by the index of those that are open; as many as wait or run.
export const LIST_OPEN_WANTED = `SELECT ${COLUMNS} FROM wanted_build WHERE ended_at_ms IS NULL ORDER BY wanted_at_ms, wanted_id`

// Of listWantedBuilds; the newest of all by their ids, which grow with time; at most @limit rows.
export const LIST_ENDED_WANTED = `
  SELECT ${COLUMNS} FROM wanted_build
  WHERE ended_at_ms IS NOT NULL AND repository NOT IN (SELECT value FROM json_each(@hidden))
  ORDER BY wanted_id DESC LIMIT @limit`

// Of listWantedBuilds for one repository; by the index of repository and time, backwards; at most @limit rows.
export const LIST_ENDED_WANTED_OF_REPOSITORY = `
  SELECT ${COLUMNS} FROM wanted_build
  WHERE repository = @repository AND ended_at_ms IS NOT NULL
  ORDER BY wanted_at_ms DESC LIMIT @limit`

// Of startBuildingPushes; by the index of repository and time; the wanted builds of a repository, few of which hold one commit.
export const HAS_WANTED_OF_COMMIT = 'SELECT 1 FROM wanted_build WHERE repository = @repository AND sha = @sha'

// Of takeWantedBuild; by the primary key of builds and over the open ones; one row. Named builds are numbered from a thousand million on.
export const GET_LAST_NUMBER = `
  SELECT max(coalesce((SELECT max(number) FROM build WHERE repository = @repository AND number < 1000000000), 0),
    coalesce((SELECT max(number) FROM wanted_build WHERE repository = @repository AND ended_at_ms IS NULL), 0)) AS number`

// Of wantBuild; by the primary key; one row.
export const GET_BUILD_TO_REPEAT = 'SELECT sha, branch, state FROM build WHERE repository = @repository AND number = @number'

// Of shaOf; by the primary key; one row.
export const GET_TAG = "SELECT sha FROM git_ref WHERE repository = @repository AND ref = 'refs/tags/' || @tag AND deleted_at_ms IS NULL"

// Of wantBuild; by the primary key; one row.
export const HAS_COMMIT = 'SELECT 1 FROM git_commit WHERE repository = @repository AND sha = @sha'

// Of this subject; by the primary key; one row.
export const GET_REPOSITORY = 'SELECT url, main_branch AS mainBranch FROM repository WHERE name = @repository'
