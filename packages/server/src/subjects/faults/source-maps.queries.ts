// Of receiveSourceMap; reads the table; at most 50 rows.
export const LIST_SERVICE_BY_REPOSITORY = 'SELECT name FROM service WHERE repository = @repository ORDER BY name LIMIT 50'
