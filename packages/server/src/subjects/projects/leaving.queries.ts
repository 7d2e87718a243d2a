// Of leave; by item_owner; every open item of a person in a project.
export const LIST_OPEN_ITEMS_OF_OWNER =
  'SELECT key FROM item WHERE owner_id = @personId AND is_open = 1 AND project = @project ORDER BY key'

// Of leave; reads the table, which has a row for each component.
export const LIST_COMPONENTS_OF_KEEPER =
  'SELECT name, repository, path_prefix AS pathPrefix FROM component WHERE project = @project AND keeper_id = @personId ORDER BY name'

// Of leave; reads the weeks of a project.
export const LIST_DUTY_OF_PERSON =
  'SELECT week_on AS weekOn FROM duty WHERE project = @project AND person_id = @personId AND week_on >= @fromOn ORDER BY week_on'
