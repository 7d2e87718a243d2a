// Of readReport; by the primary key; one row.
export const GET_INTO_KEY_OF_ITEM_MERGE_BY_KEY = 'SELECT into_key FROM item_merge WHERE item_key = @key'

// Of wordsTo; by the primary key; one row.
export const GET_ITEM_BY_KEY = 'SELECT asked_words, disposed_words FROM item WHERE key = @key'
