/**
 * Condition on `item i` for lists: the item's project is one that the asker reads, and a confidential item is for its reporter, its owners,
 * the people named
 * and those who read confidential items there. Takes the binds of `viewerOf` (people/access.ts). The unary plus keeps SQLite from walking
 * the index of projects.
 */
export const VISIBLE_ITEM = `((@readsAll = 1 OR +i.project IN (SELECT value FROM json_each(@readable)))
  AND (i.is_confidential = 0 OR @seesAll = 1 OR +i.project IN (SELECT value FROM json_each(@confidants))
    OR i.reporter_id = @viewer OR i.owner_id = @viewer
  OR EXISTS (SELECT 1 FROM json_each(i.co_owner_ids) WHERE value = @viewer)
    OR EXISTS (SELECT 1 FROM json_each(i.named_ids) WHERE value = @viewer)))`
