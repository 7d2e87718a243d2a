// Of compensate; by the primary key; one row.
export const HAS_ITEM_MERGE_BY_KEY = 'SELECT 1 FROM item_merge WHERE item_key = @key'

// Of takeDecisionBack; by triage_decision_item and the primary key; one row.
export const GET_BY_OF_TRIAGE_DECISION_BY_KEY_AND_DECISION_ID = `SELECT by FROM triage_decision
    WHERE item_key = @key AND undone_at_ms IS NULL AND decision_id <> @decisionId
    AND seq > (SELECT seq FROM triage_decision WHERE decision_id = @decisionId) ORDER BY seq DESC LIMIT 1`
