// Of mayBeTold; by the primary key; one row.
export const GET_IS_CONFIDENTIAL_OF_ITEM_BY_KEY = 'SELECT is_confidential FROM item WHERE key = @key'

// Of wayOf; by the primary key; one row.
export const GET_WAY_OF_NOTICE_CHOICE_BY_PERSON_ID_AND_WHY = 'SELECT way FROM notice_choice WHERE person_id = @personId AND why = @why'

// Of toGroup; by the primary key; one row.
export const GET_ITEM_BY_KEY = 'SELECT title, stair FROM item WHERE key = @key'

// Of markRead; by notice_item.
export const LIST_NOTICE_BY_PERSON_ID_AND_KEY = `SELECT notice_id FROM notice INDEXED BY notice_item
    WHERE person_id = @personId AND item_key = @key AND read_at_ms IS NULL ORDER BY at_ms DESC`
