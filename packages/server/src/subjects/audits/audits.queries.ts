// Of listKeptReports; by the primary key: those of a project.
export const LIST_KEPT_REPORT = 'SELECT at, words, by, figures FROM kept_report WHERE project = @project ORDER BY at DESC LIMIT 1000'

// Of keepReport; by the primary key; one row.
export const GET_LAST_REPORT = 'SELECT at FROM kept_report WHERE project = @project ORDER BY at DESC LIMIT 1'

// Of listKeptReports; by the primary key; one row.
export const GET_SCHEDULE = 'SELECT every FROM audit_schedule WHERE project = @project'

// Of keepDueReports; reads the table: a row for each project that has a schedule.
export const LIST_SCHEDULE = `SELECT s.project, s.every FROM audit_schedule s WHERE s.every <> 'never' ORDER BY s.project`
