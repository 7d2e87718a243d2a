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
