export const LIMIT = 'limit/'

// Of readSetup; by the primary key.
export const LIST_ITEM_TYPE_BY_PROJECT =
  'SELECT type, is_defect, position, fields, template FROM item_type WHERE project = @project ORDER BY position, type'

// Of readSetup; by the primary key.
export const LIST_STAGE_RULE_BY_PROJECT = 'SELECT stage, needs FROM stage_rule WHERE project = @project ORDER BY stage'

// Of listMilestones; by the primary key and item_milestone; at most 500 rows.
export const LIST_KNOWN_BY_PROJECT = `WITH used AS (SELECT milestone AS name, sum(is_open) AS openItems,
      sum(1 - is_open) AS settledItems FROM item INDEXED BY item_milestone
      WHERE project = @project AND milestone IS NOT NULL GROUP BY milestone),
    known AS (SELECT name FROM milestone WHERE project = @project UNION SELECT name FROM used)
    SELECT k.name, m.starts_on AS startsOn, m.due_on AS dueOn, coalesce(m.is_closed, 0) AS is_closed,
      coalesce(u.openItems, 0) AS openItems, coalesce(u.settledItems, 0) AS settledItems
    FROM known k LEFT JOIN milestone m ON m.project = @project AND m.name = k.name LEFT JOIN used u ON u.name = k.name
      ORDER BY m.due_on IS NULL, m.due_on, k.name LIMIT 500`

// Of listLabels; by the primary key; at most 2000 rows.
export const LIST_LABEL_COLOUR_BY_PROJECT = 'SELECT label, colour FROM label_colour WHERE project = @project ORDER BY label LIMIT 2000'

// Of colourNewLabels; by the primary key.
export const LIST_ITEM_BY_KEY = `SELECT i.project, l.value AS label FROM item i, json_each(i.labels) l
      WHERE i.key = @key AND NOT EXISTS (SELECT 1 FROM label_colour c WHERE c.project = i.project AND c.label = l.value)`

// Of listOwnFields; by the primary key.
export const LIST_OWN_FIELD_BY_PROJECT =
  'SELECT field_id, name, kind, choices, types, colour, position FROM own_field WHERE project = @project ORDER BY position, field_id'

// Of readSetting; by the primary key; one row.
export const GET_VALUE_OF_PROJECT_SETTING_BY_PROJECT_AND_NAME =
  'SELECT value FROM project_setting WHERE project = @project AND name = @name'

// Of requireProject; by the primary key; one row.
export const HAS_PROJECT_BY_PROJECT = 'SELECT 1 FROM project WHERE prefix = @project'

// Of removeType; by the primary key; one row.
export const HAS_ITEM_TYPE_BY_PROJECT_AND_TYPE = 'SELECT 1 FROM item_type WHERE project = @project AND type = @type'

// Of listLimits.
export const LIST_PROJECT_SETTING_BY_PROJECT = `SELECT name, value FROM project_setting
    WHERE project = @project AND name >= '${LIMIT}' AND name < '${LIMIT}~' AND value <> '' ORDER BY name` as const

// Of firstProjectWhere; tens of rows.
export const LIST_PREFIXES_OF_PROJECTS = 'SELECT prefix FROM project ORDER BY prefix'

// Of readSetup; by the primary key.
export const LIST_COMPONENT_OF_PROJECT = `SELECT name, keeper_id AS keeperId, repository, path_prefix AS pathPrefix
  FROM component WHERE project = @project ORDER BY name`
