// Of checkOwnValues; by the primary key; one row.
export const HAS_PERSON_BY_PERSON_ID = 'SELECT 1 FROM person WHERE person_id = @personId'
