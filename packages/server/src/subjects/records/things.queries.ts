// Of projectsOfRepository; reads the table.
export const LIST_SERVICE_BY_REPOSITORY = `SELECT project FROM service WHERE repository = @repository UNION SELECT project FROM component
    WHERE repository = @repository ORDER BY project`

// Of projectsOfService; by the primary key.
export const LIST_SERVICE_BY_SERVICE = 'SELECT project FROM service WHERE name = @service'

// Of projectOfRequirement; by the primary key.
export const LIST_KEY_PREFIX_BY_PREFIX = `SELECT project FROM key_prefix WHERE prefix = @prefix AND kind = 'requirement'`

// Of projectsOfFault; by the primary key.
export const LIST_FAULT_BY_NUMBER = 'SELECT s.project FROM fault f JOIN service s ON s.name = f.service WHERE f.number = @number'

// Of hiddenRepositories; reads the table.
export const LIST_SERVICE = `SELECT repository AS name, project FROM service UNION SELECT repository AS name, project FROM component
    WHERE repository IS NOT NULL ORDER BY name, project`

// Of hiddenServices; reads the table.
export const LIST_SERVICE_FOR_HIDDEN_SERVICES = 'SELECT name, project FROM service ORDER BY name'

// Of hiddenPrefixes; reads the table.
export const LIST_KEY_PREFIX = `SELECT prefix AS name, project FROM key_prefix WHERE kind = 'requirement' ORDER BY prefix`

// Of repositoryNamed; reads the table, which has a row for each repository.
export const LIST_REPOSITORY_NAMES = 'SELECT name, url, disconnected_at_ms IS NULL AS isConnected FROM repository ORDER BY name'
