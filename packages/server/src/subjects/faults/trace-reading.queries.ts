// Of repositoryOf; by the primary key; one row.
export const GET_REPOSITORY_OF_SERVICE_BY_SERVICE = 'SELECT repository FROM service WHERE name = @service'

// Of blameFrames; by the primary key; one row.
export const GET_SHA_OF_RELEASE_BY_SERVICE_AND_RELEASE = 'SELECT sha FROM release WHERE service = @service AND name = @release'

// Of pathPrefixOf; by the primary key; one row.
export const GET_PATH_PREFIX_OF_SERVICE_BY_SERVICE = 'SELECT path_prefix FROM service WHERE name = @service'
