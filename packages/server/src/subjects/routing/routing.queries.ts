// Of listRules; by routing_rule_project.
export const LIST_ROUTING_RULE_BY_PROJECT =
  'SELECT rule_id, name, conditions, sets FROM routing_rule WHERE project = @project ORDER BY position, rule_id'

// Of readRouting; by the primary key.
export const LIST_DUTY_BY_PROJECT = 'SELECT week_on, person_id FROM duty WHERE project = @project ORDER BY week_on'

// Of countUses; by the primary key; one row.
export const COUNT_JOURNAL_SUBJECT_BY_SUBJECT = 'SELECT count(*) AS count FROM journal_subject WHERE subject = @subject'

// Of setRoutingRule; by component_name; one row.
export const HAS_COMPONENT_BY_COMPONENT = 'SELECT 1 FROM component WHERE name = @component'

// Of setRoutingRule; by the primary key; one row.
export const GET_ROUTING_RULE_BY_RULE_ID = 'SELECT position, project FROM routing_rule WHERE rule_id = @ruleId'

// Of onDuty; by the primary key; one row.
export const GET_PERSON_ID_OF_DUTY_BY_PROJECT_AND_WEEK_ON = 'SELECT person_id FROM duty WHERE project = @project AND week_on = @weekOn'
