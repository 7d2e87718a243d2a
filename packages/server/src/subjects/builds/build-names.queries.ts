// Of numberOfBuild; by the primary key; one row.
export const GET_NUMBER_OF_BUILD_NAME = 'SELECT number FROM build_name WHERE repository = @repository AND name = @name'

// Of numberOfBuild; by build_name_number; one row.
export const GET_LAST_NAMED_NUMBER = 'SELECT max(number) AS number FROM build_name WHERE repository = @repository AND number > 1000000000'

// Of ensureBuild; by the primary key; one row.
export const HAS_BUILD = 'SELECT 1 FROM build WHERE repository = @repository AND number = @number'
