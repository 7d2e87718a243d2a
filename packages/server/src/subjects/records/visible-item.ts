/** Condition on `item i` for lists: takes @viewer and @seesAll (services/visibility.ts says who sees what). */
export const VISIBLE_ITEM = `(i.is_confidential = 0 OR @seesAll = 1 OR i.reporter_id = @viewer OR i.owner_id = @viewer
  OR EXISTS (SELECT 1 FROM json_each(i.co_owner_ids) WHERE value = @viewer) OR EXISTS (SELECT 1 FROM json_each(i.named_ids) WHERE value = @viewer))`
