// Of composeDigest; by the primary key; one row.
export const GET_PERSON_BY_PERSON_ID = 'SELECT email, name FROM person WHERE person_id = @personId'

// Of composeDigest; by the primary key; one row.
export const GET_TITLE_OF_ITEM_BY_KEY = 'SELECT title FROM item WHERE key = @key'
