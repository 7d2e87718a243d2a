// Of rolesOfPerson; by membership_person.
export const LIST_MEMBERSHIP_BY_PERSON_ID = 'SELECT project, role FROM membership WHERE person_id = @personId'

// Of archivedProjects; reads the projects, a handful of rows.
export const LIST_ARCHIVED_PROJECTS = `SELECT project.prefix FROM project
  CROSS JOIN project_setting ON project_setting.project = project.prefix AND project_setting.name = 'archived'
  WHERE project_setting.value <> ''`
