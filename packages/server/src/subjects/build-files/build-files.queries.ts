import { NAME_OF_BUILD } from '#subjects/code/index'

/** One row of `build_file`. */
export interface BuildFileRow {
  fileId: string
  name: string
  sizeBytes: number | null
  sha256: string | null
  url: string | null
  atMs: number
}
const COLUMNS = 'file_id AS fileId, name, size_bytes AS sizeBytes, sha256, url, at_ms AS atMs'

// Of listBuildFiles; by the unique key; at most a thousand rows of one build.
export const LIST_FILES = `SELECT ${COLUMNS} FROM build_file WHERE repository = @repository AND build = @build ORDER BY name LIMIT 1000`

/** One row of `build_file` with its build. */
export interface FoundFileRow extends BuildFileRow {
  repository: string
  number: number
  build: string
  sha: string
  branch: string
}
const FOUND = `SELECT f.file_id AS fileId, f.name, f.size_bytes AS sizeBytes, f.sha256, f.url, f.at_ms AS atMs, b.repository, b.number,
    ${NAME_OF_BUILD} AS build, b.sha, b.branch
  FROM build_file f JOIN build b ON b.repository = f.repository AND b.number = f.build`

// Of findBuildFiles; by build_file_sha256; the newest fifty of what the asker may read.
export const LIST_FILES_BY_SHA256 = `${FOUND}
  WHERE f.sha256 = @sha256 AND f.repository NOT IN (SELECT value FROM json_each(@hidden)) ORDER BY f.at_ms DESC LIMIT 50`

// Of listReleaseFiles; by build_sha and the unique key.
export const LIST_FILES_OF_COMMIT = `${FOUND} WHERE b.repository = @repository AND b.sha = @sha ORDER BY f.name, b.number DESC LIMIT 1000`

// Of findBuildFiles; by release_sha.
export const LIST_RELEASES_OF_COMMIT = `SELECT r.service, r.name FROM release r JOIN service s ON s.name = r.service
  WHERE s.repository = @repository AND r.sha = @sha ORDER BY r.service, r.name`

// Of readProvenance; by the primary key; one row.
export const GET_BUILD_OF_FILES = `SELECT b.sha, b.branch, b.started_at_ms AS startedAtMs, b.finished_at_ms AS finishedAtMs, r.url,
    ${NAME_OF_BUILD} AS name,
    (SELECT w.machine FROM wanted_build w WHERE w.repository = b.repository AND w.number = b.number ORDER BY w.wanted_at_ms DESC LIMIT 1)
      AS machine
  FROM build b JOIN repository r ON r.name = b.repository WHERE b.repository = @repository AND b.number = @build`

// Of takeBuildFile; by the unique key; one row.
export const GET_FILE_BY_NAME = `SELECT ${COLUMNS} FROM build_file WHERE repository = @repository AND build = @build AND name = @name`

// Of readBuildFile; by the primary key; one row.
export const GET_FILE = `SELECT ${COLUMNS} FROM build_file WHERE file_id = @fileId AND repository = @repository AND build = @build`

// Of takeBuildFile; by the unique key; one row.
export const COUNT_FILES = 'SELECT count(*) AS count FROM build_file WHERE repository = @repository AND build = @build'

// Of takeBuildFile; by the unique key; one row.
export const PUT_FILE = `
  INSERT INTO build_file (file_id, repository, build, name, size_bytes, sha256, url, at_ms)
  VALUES (@fileId, @repository, @build, @name, @sizeBytes, @sha256, @url, @atMs)
  ON CONFLICT (repository, build, name) DO UPDATE
    SET size_bytes = excluded.size_bytes, sha256 = excluded.sha256, url = excluded.url, at_ms = excluded.at_ms`

// Of removeOldFiles; by the index of their times.
export const DELETE_OLD_FILES = 'DELETE FROM build_file WHERE at_ms < @beforeMs'
