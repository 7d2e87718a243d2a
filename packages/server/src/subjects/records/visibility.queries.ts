// Of maySee; by the primary key; one row.
export const GET_ITEM_BY_KEY = 'SELECT project, is_confidential, reporter_id, owner_id, co_owner_ids, named_ids FROM item WHERE key = @key'

// Of currentKey; by the primary key; one row.
export const GET_KEY_OF_KEY_ALIAS_BY_KEY = 'SELECT key FROM key_alias WHERE alias = @key'
