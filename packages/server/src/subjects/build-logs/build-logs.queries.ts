/** A log as its row stands; `rest` is what came after its last line break. */
export interface LogRow {
  logId: number
  step: string
  attempt: number
  bytes: number
  keptBytes: number
  lines: number
  rest: Buffer
  isCut: 0 | 1
  errors: number
  warnings: number
  firstAtMs: number
  lastAtMs: number
}
/** Whole lines of a log: their content is deflated. */
export interface PieceRow {
  firstLine: number
  lineCount: number
  fromByte: number
  byteCount: number
  content: Buffer
}

// Of takeBuildLog; by the unique key; one row of the few attempts of a step.
export const GET_ATTEMPT_OF_RUN = `SELECT log_id AS logId, step, attempt, bytes, kept_bytes AS keptBytes, lines, rest, is_cut AS isCut,
    errors, warnings, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs
  FROM build_log WHERE repository = @repository AND build = @build AND step = @step AND run = @run`

// Of takeBuildLog; by the unique key; one row.
export const GET_NEWEST_ATTEMPT = `SELECT log_id AS logId, step, attempt, bytes, kept_bytes AS keptBytes, lines, rest, is_cut AS isCut,
    errors, warnings, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs
  FROM build_log WHERE repository = @repository AND build = @build AND step = @step ORDER BY attempt DESC LIMIT 1`

// Of takeBuildLog; by the primary key; one row.
export const GET_LOG_BY_ID = `SELECT log_id AS logId, step, attempt, bytes, kept_bytes AS keptBytes, lines, rest, is_cut AS isCut,
    errors, warnings, first_at_ms AS firstAtMs, last_at_ms AS lastAtMs
  FROM build_log WHERE log_id = @logId`

// Of takeBuildLog; one row.
export const INSERT_LOG = `
  INSERT INTO build_log (repository, build, step, attempt, bytes, kept_bytes, lines, rest, is_cut, run, errors, warnings,
    first_at_ms, last_at_ms)
  VALUES (@repository, @build, @step, @attempt, 0, 0, 0, x'', 0, @run, 0, 0, @atMs, @atMs)`

// Of takeBuildLog; by the primary key; one row.
export const UPDATE_LOG = `UPDATE build_log SET bytes = @bytes, kept_bytes = @keptBytes, lines = @lines, rest = @rest, is_cut = @isCut,
    errors = @errors, warnings = @warnings, last_at_ms = @atMs WHERE log_id = @logId`

// Of takeBuildLog; by the primary key; one row.
export const GET_LAST_PIECE = `
  SELECT first_line AS firstLine, line_count AS lineCount, from_byte AS fromByte,
    byte_count AS byteCount, content
  FROM build_log_piece WHERE log_id = @logId ORDER BY first_line DESC LIMIT 1`

// Of takeBuildLog; by the primary key; one row.
export const PUT_PIECE = `INSERT OR REPLACE INTO build_log_piece (log_id, first_line, line_count, from_byte, byte_count, content)
  VALUES (@logId, @firstLine, @lineCount, @fromByte, @byteCount, @content)`

// Of takeBuildLog; by the primary key; at most 200 rows of a log are looked at.
export const HAS_MARK = 'SELECT 1 FROM build_log_mark WHERE log_id = @logId AND text = @text'

// Of takeBuildLog; by the primary key; at most 200 rows of a log.
export const INSERT_MARK = `INSERT OR IGNORE INTO build_log_mark (log_id, line, kind, text, path, path_line)
  VALUES (@logId, @line, @kind, @text, @path, @pathLine)`

// Of listBuildLogs; by the unique key; a row for each step of one build and attempt.
export const LIST_LOGS = `SELECT log_id AS logId, step, attempt, bytes, lines, is_cut AS isCut, errors, warnings,
    first_at_ms AS firstAtMs, last_at_ms AS lastAtMs
  FROM build_log WHERE repository = @repository AND build = @build ORDER BY first_at_ms, log_id LIMIT 200`

// Of listBuildLogs; by the primary key; at most 200 rows.
export const LIST_MARKS = 'SELECT line, kind, text, path, path_line AS pathLine FROM build_log_mark WHERE log_id = @logId ORDER BY line'

// Of listBuildLogs; by the primary key; one row.
export const GET_SHA_OF_BUILD = 'SELECT sha FROM build WHERE repository = @repository AND number = @build'

// Of readLogLines and those that read a log; by the unique key; one row.
export const GET_LOG = `SELECT log_id AS logId, lines FROM build_log
  WHERE repository = @repository AND build = @build AND step = @step AND attempt = @attempt`

// Of readLogLines; by the primary key, backwards from the last line asked for; the pieces that hold those lines.
export const LIST_PIECES = `
  SELECT first_line AS firstLine, line_count AS lineCount, from_byte AS fromByte,
    byte_count AS byteCount, content
  FROM build_log_piece WHERE log_id = @logId AND first_line < @toLine AND first_line + line_count > @fromLine ORDER BY first_line`

// Of those that read a whole log; by the primary key; one row.
export const GET_PIECE_FROM = `
  SELECT first_line AS firstLine, line_count AS lineCount, from_byte AS fromByte,
    byte_count AS byteCount, content
  FROM build_log_piece WHERE log_id = @logId AND first_line >= @fromLine ORDER BY first_line LIMIT 1`

// Of removeOldLogs; by build_log_last; at most 50 rows.
export const LIST_OLD_LOGS = 'SELECT log_id AS logId FROM build_log WHERE last_at_ms < @beforeMs ORDER BY last_at_ms LIMIT 50'

// Of removeOldLogs; by the primary keys.
export const DELETE_PIECES = 'DELETE FROM build_log_piece WHERE log_id = @logId'
export const DELETE_MARKS = 'DELETE FROM build_log_mark WHERE log_id = @logId'
export const DELETE_LOG = 'DELETE FROM build_log WHERE log_id = @logId'
