/** Newest commits last, so that parents come before children nearly always. By the index of times. */
export const LIST_GRAPH_COMMITS = `SELECT repository, sha, parents, patch_id, reverts FROM git_commit WHERE repository = @repository
    ORDER BY committed_at_ms, sha DESC`

/** The commits of large repositories in the order in which they lie on the disk, which is that in which they came: a scan of the whole. */
export const LIST_GRAPH_COMMITS_OF_LARGE = `SELECT repository, sha, parents, patch_id, reverts FROM git_commit
    WHERE +repository IN (SELECT value FROM json_each(@repositories)) ORDER BY rowid`
