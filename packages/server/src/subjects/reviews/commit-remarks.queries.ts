// Of listCommitRemarks; by commit_remark_commit.
export const LIST_COMMIT_REMARKS = `SELECT remark_id AS remarkId, person_id AS personId, at_ms AS atMs, text, path, side, line,
    last_line AS lastLine, reply_to AS replyTo, settled_by AS settledBy FROM commit_remark
    WHERE repository = @repository AND sha = @sha ORDER BY at_ms, remark_id`

// Of requireCommitRemark; by the primary key; one row.
export const GET_COMMIT_REMARK = `SELECT remark_id AS remarkId, reply_to AS replyTo, settled_by AS settledBy FROM commit_remark
    WHERE remark_id = @remarkId AND repository = @repository AND sha = @sha`
