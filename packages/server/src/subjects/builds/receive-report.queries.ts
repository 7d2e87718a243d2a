// Of requireRepository; by the primary key; one row.
export const HAS_REPOSITORY_BY_REPOSITORY = 'SELECT 1 FROM repository WHERE name = @repository'

// Of receiveReport; by the primary key; one row.
export const GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD = 'SELECT branch FROM build WHERE repository = @repository AND number = @build'

// Of receiveFindings; by the primary key; at most one row for each finding of a report.
export const LIST_KNOWN_FINDINGS = `SELECT asked.key AS at FROM json_each(@findings) asked
    JOIN finding f ON f.repository = @repository AND f.tool = asked.value ->> 'tool' AND f.identity = asked.value ->> 'identity'`
