// Of requireRepository; by the primary key; one row.
export const HAS_REPOSITORY_BY_REPOSITORY = 'SELECT 1 FROM repository WHERE name = @repository'

// Of receiveReport; by the primary key; one row.
export const GET_BRANCH_OF_BUILD_BY_REPOSITORY_AND_BUILD = 'SELECT branch FROM build WHERE repository = @repository AND number = @build'
