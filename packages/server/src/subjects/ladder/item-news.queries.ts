// Of tellOfMoves; by the primary key and component_name; one row.
export const GET_ITEM_BY_KEY =
  'SELECT i.owner_id, i.co_owner_ids, c.keeper_id FROM item i LEFT JOIN component c ON c.name = i.component WHERE i.key = @key'
