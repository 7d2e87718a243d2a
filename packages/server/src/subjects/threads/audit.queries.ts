// Of readAudit; by the primary key; one row.
export const GET_PROJECT_NAME = 'SELECT name FROM project WHERE prefix = @project'
